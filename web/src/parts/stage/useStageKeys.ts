import { fields } from "../../base/keys/fields";
import { useLayoutEffect } from "react";
import type { Mark } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { same } from "../../base/api/content";
import type { StageCore } from "./core";
import { useKeys } from "../../base/keys/useKeys";
import { pad } from "./pad";
import type { Seen } from "./useStage";
import type { Zoom } from "./useZoom";
import { isElement, parsed } from "../../base/typed";

export const clip = "application/x.raconte.marks+json";

const typing = (target: EventTarget | null) => isElement(target) && target.matches(`${fields}, [contenteditable=true]`);

const arrows = [
  ["Left", { x: -1, y: 0 }],
  ["Right", { x: 1, y: 0 }],
  ["Up", { x: 0, y: -1 }],
  ["Down", { x: 0, y: 1 }],
] as const;

const board = "[role=application]";

/** The keys of the stage, and its part of the clipboard. */
export function useStageKeys(props: {
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
  const off = !stage;
  const nudge = (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 : 1;
    const to = arrows.find(([name]) => `Arrow${name}` === e.key)?.[1];
    if (stage && to) take(stage.nudge({ x: to.x * by, y: to.y * by }, e.altKey), "Nudge a mark");
  };
  const arrow = (mod: string) => arrows.map(([name]) => mod + name);
  const chosen = (act: (stage: StageCore) => View, label: string) => () =>
    stage && view?.chosen.length ? take(act(stage), label) : false;
  const escape = () => {
    if (!stage) return;
    const v = stage.cancel();
    if (view && same([v.tool, v.chosen, v.frame], [view.tool, view.chosen, view.frame]) && !v.tool && !view.sweep)
      onClose();
    else take(v);
  };
  useKeys(
    "The picture",
    off
      ? []
      : [
          {
            keys: "Escape",
            does: "Let go of words, of a tool, of what is chosen, of the picture",
            writing: "fields",
            run: (e) => {
              if (!typing(e.target)) return escape();
              if (isElement(e.target)) e.target.blur();
              if (view?.typing) take(stage.done());
            },
          },
          ...pad.map(([code, tool, name]) => ({
            keys: [code.slice(3), `Shift+${code.slice(3)}`],
            does: name,
            run: (e: KeyboardEvent) => take(stage.choose(tool, e.shiftKey)),
          })),
          { keys: "Shift", does: "With a key of the pad: for several marks" },
          { keys: "Ctrl+A", does: "Choose all marks", run: () => take(stage.selectAll()) },
          { keys: "Ctrl+D", does: "Make another like it", run: chosen((s) => s.duplicate(), "Duplicate a mark") },
          { keys: "Ctrl+G", does: "Keep marks together", run: chosen((s) => s.group(true), "Group marks") },
          { keys: "Ctrl+Shift+G", does: "Take them apart", run: chosen((s) => s.group(false), "Group marks") },
          { keys: ["Delete", "Backspace"], does: "Delete a mark", run: chosen((s) => s.remove(), "Delete a mark") },
          { keys: arrow(""), does: "Move a mark by a pixel", within: board, run: nudge },
          { keys: arrow("Shift+"), does: "Move it by ten", within: board, run: nudge },
          { keys: arrow("Alt+"), does: "Make it larger or smaller by a pixel", within: board, run: nudge },
          { keys: arrow("Alt+Shift+"), does: "Make it larger or smaller by ten", within: board, run: nudge },
          {
            keys: "Enter",
            does: "Place a mark with its tool, or write the words of the mark",
            within: board,
            run: () => (view?.tool ? take(stage.place()) : view?.selected ? write() : false),
          },
          {
            keys: "Space",
            does: "Move the picture by dragging",
            within: board,
            run: () => zoom.setHand(true),
            release: () => zoom.setHand(false),
          },
          { keys: ["Plus", "="], does: "See it larger", within: board, run: () => zoom.by(1.4) },
          { keys: "-", does: "See it smaller", within: board, run: () => zoom.by(1 / 1.4) },
          { keys: "0", does: "See all of it", within: board, run: () => zoom.fit() },
          { keys: "1", does: "See it pixel by pixel", within: board, run: () => zoom.to(oneToOne(view)) },
          {
            keys: ["]", "}"],
            does: "Bring a mark forward; with Shift before all others",
            within: board,
            run: (e) => take(stage.raise(e.shiftKey ? 1000 : 1), "Bring a mark forward"),
          },
          {
            keys: ["[", "{"],
            does: "Send it back; with Shift behind all others",
            within: board,
            run: (e) => take(stage.raise(e.shiftKey ? -1000 : -1), "Send a mark back"),
          },
        ],
  );
  useLayoutEffect(() => {
    if (!stage) return;
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
      take(stage.paste(parsed<Mark[]>(text)), "Paste a mark");
    };
    addEventListener("copy", copy);
    addEventListener("cut", copy);
    addEventListener("paste", paste);
    return () => {
      removeEventListener("copy", copy);
      removeEventListener("cut", copy);
      removeEventListener("paste", paste);
    };
  }, [stage, take, onCopyPicture]);
}

/** How many times larger than fitted a picture is when one of its pixels is one of the screen. */
export function oneToOne(view: Seen | undefined): number {
  const box = document.querySelector("[role=application]")?.getBoundingClientRect();
  if (!view || !box || box.width === 0) return 1;
  return 1 / (Math.min(box.width / view.frame.w, box.height / view.frame.h) * devicePixelRatio);
}
