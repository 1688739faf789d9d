import { fields } from "../../base/ui/fields";
import { useLayoutEffect } from "react";
import type { Mark } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { same } from "../../base/api/content";
import type { StageCore } from "./core";
import { letterKeys } from "../../base/storage/letterKeys";
import { pad } from "./pad";
import type { Seen } from "./useStage";
import type { Zoom } from "./useZoom";

export const clip = "application/x.raconte.marks+json";

const typing = (target: EventTarget | null) =>
  (target as HTMLElement | null)?.matches?.(`${fields}, [contenteditable=true]`) ?? false;

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The keys of the stage, and its part of the clipboard. */
export function useKeys(props: {
  stage: StageCore | undefined;
  view: Seen | undefined;
  zoom: Zoom;
  take: (view: View, label?: string) => void;
  onClose: () => void;
  /** Copies the finished picture: what copying does while no mark is chosen. */
  onCopyPicture: () => void;
  write: () => void;
}) {
  const { stage, view, zoom, take, onClose, onCopyPicture, write } = props;
  // Before the picture is seen, so that no key pressed on seeing it is lost.
  useLayoutEffect(() => {
    if (!stage) return;
    const key = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (target.closest("[role=dialog], [role=alertdialog], [role=menu]")) return;
      if (e.key === "Escape" && typing(target)) {
        target.blur();
        if (view?.typing) take(stage.done());
        return;
      }
      const onStage = target.closest("[role=application]") !== null || target === document.body;
      if (typing(target)) return;
      if (e.ctrlKey || e.metaKey) {
        const letter = e.key.toLowerCase();
        if (letter === "a") take(stage.selectAll());
        else if (letter === "d" && view?.chosen.length) take(stage.duplicate(), "Duplicate a mark");
        else if (letter === "g" && view?.chosen.length) take(stage.group(!e.shiftKey), "Group marks");
        else return;
        e.preventDefault();
        return;
      }
      const arrow = arrows[e.key];
      const tool = pad.find((p) => p[0] === e.code);
      if (e.key === " " && onStage) zoom.setHand(true);
      else if (tool && !e.altKey && letterKeys.on()) take(stage.choose(tool[1], e.shiftKey));
      else if (e.key === "Escape") {
        const v = stage.cancel();
        if (view && same([v.tool, v.chosen, v.frame], [view.tool, view.chosen, view.frame]) && !v.tool && !view.sweep)
          onClose();
        else take(v);
      } else if (arrow && onStage) {
        const by = e.shiftKey ? 10 : 1;
        take(stage.nudge({ x: arrow[0] * by, y: arrow[1] * by }, e.altKey), "Nudge a mark");
      } else if ((e.key === "Delete" || e.key === "Backspace") && view?.chosen.length)
        take(stage.remove(), "Delete a mark");
      else if (e.key === "Enter" && onStage && view?.tool) take(stage.place());
      else if (e.key === "Enter" && onStage && view?.selected) write();
      else if (onStage && (e.key === "+" || e.key === "=")) zoom.by(1.4);
      else if (onStage && e.key === "-") zoom.by(1 / 1.4);
      else if (onStage && e.key === "0") zoom.fit();
      else if (onStage && e.key === "1") zoom.to(oneToOne(view));
      else if (onStage && e.key === "]") take(stage.raise(e.shiftKey ? 1000 : 1), "Bring a mark forward");
      else if (onStage && e.key === "[") take(stage.raise(e.shiftKey ? -1000 : -1), "Send a mark back");
      else return;
      e.preventDefault();
    };
    const release = (e: KeyboardEvent) => e.key === " " && zoom.setHand(false);
    const copy = (e: ClipboardEvent) => {
      if (!e.clipboardData || (getSelection()?.toString() ?? "") !== "") return;
      // With no words chosen, copying while words are written copies the finished picture.
      const words = e.target instanceof HTMLTextAreaElement && e.target.dataset.words !== undefined;
      if (words && e.type === "copy" && e.target.selectionStart === e.target.selectionEnd) {
        e.preventDefault();
        onCopyPicture();
        return;
      }
      if (typing(e.target)) return;
      const marks = stage.copied();
      e.preventDefault();
      if (marks.length === 0) {
        if (e.type === "copy") onCopyPicture();
        return;
      }
      e.clipboardData.setData(clip, JSON.stringify(marks));
      if (e.type === "cut") take(stage.remove(), "Cut a mark");
    };
    const paste = (e: ClipboardEvent) => {
      const text = typing(e.target) ? "" : e.clipboardData?.getData(clip);
      if (!text) return;
      e.preventDefault();
      take(stage.paste(JSON.parse(text) as Mark[]), "Paste a mark");
    };
    addEventListener("keydown", key);
    addEventListener("keyup", release);
    addEventListener("copy", copy);
    addEventListener("cut", copy);
    addEventListener("paste", paste);
    return () => {
      removeEventListener("keydown", key);
      removeEventListener("keyup", release);
      removeEventListener("copy", copy);
      removeEventListener("cut", copy);
      removeEventListener("paste", paste);
    };
  }, [stage, take, onClose, onCopyPicture, view, zoom, write]);
}

/** How many times larger than fitted a picture is when one of its pixels is one of the screen. */
export function oneToOne(view: Seen | undefined): number {
  const box = document.querySelector("[role=application]")?.getBoundingClientRect();
  if (!view || !box || box.width === 0) return 1;
  return 1 / (Math.min(box.width / view.frame.w, box.height / view.frame.h) * devicePixelRatio);
}
