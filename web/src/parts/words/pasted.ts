import { generateJSON } from "@tiptap/core";
import type { Content, Figure } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { core } from "../../base/core/core";
import { extensions, MarkerTags, toModel } from "./extensions";
import { Names } from "./refer";
import { parsed } from "../../base/typed";

/** What was copied from a page, a mail or a word processor, as words: what the text model has is kept. */
export function wordsOf(html: string): Content["words"] {
  return toModel(
    generateJSON(
      html,
      extensions(new MarkerTags({}), new Names({}), (href) => core.safeLink(href)),
    ),
  );
}

// Where a picture stood in what was pasted, while its words are read: characters for private use around its number.
const [opens, closes] = ["\uE000", "\uE001"];
const place = new RegExp(`${opens}(\\d+)${closes}`, "g");

/** What was copied with the pictures in it taken out: those that it holds itself. Nothing is fetched. */
export function pictured(html: string): { html: string; files: File[] } {
  const page = new DOMParser().parseFromString(html, "text/html");
  const files: File[] = [];
  for (const img of page.querySelectorAll("img")) {
    const [, type, data] = /^data:(image\/(?:png|jpeg|gif|webp|bmp));base64,([A-Za-z0-9+/=\s]+)$/.exec(img.src) ?? [];
    if (!type || !data || files.length >= 200) continue;
    try {
      const bytes = Uint8Array.from(atob(data.replace(/\s/g, "")), (c) => c.charCodeAt(0));
      img.replaceWith(`${opens}${files.length}${closes}`);
      files.push(new File([bytes], `pasted ${files.length + 1}.${type.slice(6)}`, { type }));
    } catch {
      // It is damaged: its words are taken without it.
    }
  }
  return { html: page.body.innerHTML, files };
}

/** Steps with the pictures that stood in their words; a line that was a picture alone belongs to the step before it. */
export function withPictures(
  steps: Content[],
  files: File[],
  uploads: { add: (files: File[]) => string[] } | undefined,
): Content[] {
  if (files.length === 0 || !uploads) return steps;
  const ids = uploads.add(files);
  const out: Content[] = [];
  for (const step of steps) {
    const raw = JSON.stringify(step.words);
    const figures = [...raw.matchAll(place)].flatMap<Figure>(([, n]) => {
      const shot = ids[Number(n)];
      return shot ? [{ id: newID(), shot, alt: "", marks: [] }] : [];
    });
    const words = withoutEmpty(parsed<Content["words"]>(raw.replace(place, "")));
    const before = out.at(-1);
    if (core.empty(words) && before) before.figures = [...before.figures, ...figures];
    else out.push({ ...step, words, figures: [...step.figures, ...figures] });
  }
  return out;
}

/** Texts of no letters are not in the text model. */
const withoutEmpty = (n: Content["words"]): Content["words"] => ({
  ...n,
  ...(n.content && { content: n.content.filter((c) => c.type !== "text" || c.text).map(withoutEmpty) }),
});
