import { sayMs } from "../../base/format";
import { useEffect, useState } from "react";
import { useWhole } from "../../base/store";
import type { About } from "../../base/api/client";
import { settings } from "./settings";
import { core } from "../../base/core/core";
import { type Item, shots } from "./shots";

export function useShots() {
  useEffect(() => void shots.start(), []);
  return useWhole(shots);
}

/** The address of a shot's small picture. Memory is let go when it is no longer shown. */
export function useThumb(item: Pick<Item, "id" | "thumb" | "taken">): string {
  const [url, setURL] = useState("");
  const { thumb } = item;
  useEffect(() => {
    if (!thumb) return;
    const made = URL.createObjectURL(thumb);
    setURL(made);
    return () => URL.revokeObjectURL(made);
  }, [thumb]);
  return thumb ? url : `/api/shots/${encodeURIComponent(item.id)}/preview`;
}

/** What is said of a shot where it can't be seen. */
export const altOf = (item: Pick<Item, "name" | "about">) =>
  [item.about.window?.title, item.name].filter(Boolean).join(", ");

/** How long a clip is, as it stands on its picture; "" of a still one. */
export function lengthOn(item: { moves?: boolean; taken?: { clip?: { ms: number } } }): string {
  const ms = item.taken?.clip?.ms;
  if (ms === undefined) return item.moves ? "clip" : "";
  return sayMs(ms);
}

const captions = new WeakMap<About, { language: string; words: string }>(); // rows are drawn more often than their words change

/** A shot in one short line: what was done, the window, or its name. */
export function captionOf({ name, about }: Pick<Item, "name" | "about">): string {
  const { language } = settings();
  let known = captions.get(about);
  if (known?.language !== language) {
    known = { language, words: core.actionWords(about, language) || about.window?.title || "" };
    captions.set(about, known);
  }
  return known.words || name.replace(/\.[a-z]+$/i, "");
}
