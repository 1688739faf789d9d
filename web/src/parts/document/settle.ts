import type { Figure, Finding, Layout } from "../../base/api/client";
import { core } from "../../base/core/core";
import type { Draft } from "./draft";
import { withFigures } from "../../base/api/content";

/** What settles findings with one action, for one or for all. */
export type Settle = {
  /** Takes the proposed wording, or adds it where it was missing. */
  reword: (findings: Finding[]) => void;
  /** Crops a picture to what is marked in it; false where nothing is. */
  crop: (finding: Finding) => boolean;
  /** Gives pictures that follow each other, and differ in size by little, the same crop. */
  even: () => void;
  /** Writes for a layout with more room. */
  roomier: () => void;
};

export function settleIn(draft: Draft, layout: () => Layout): Settle {
  const rows = () => draft.blocks();
  const sizeOf = (shot: string) => {
    const s = draft.shots.get(shot);
    return s && { w: s.width, h: s.height };
  };
  return {
    reword: (findings) => {
      draft.patchAll(
        findings.length > 1 ? "Take the proposed wording everywhere" : "Take the proposed wording",
        ({ id, content }) =>
          findings
            .filter((f) => f.block === id && f.to)
            .reduce((c, f) => ({ ...c, words: core.reworded(c.words, f.from ?? "", f.to ?? "") }), content),
      );
    },
    crop: (finding) => {
      const row = rows().find((r) => r.id === finding.block);
      const figure = row?.content.figures.find((f) => f.id === finding.figure);
      const size = figure && sizeOf(figure.shot);
      if (!row || !figure || !size || !figure.marks.some((m) => m.kind === "box")) return false;
      const cropped = core.shown(figure, size, "near");
      draft.patch("Crop to what matters", [row.id], ({ content }) =>
        withFigures(content, (f) => (f.id === figure.id ? cropped : f)),
      );
      return true;
    },
    even: () => {
      const evened = new Map<string, Figure>();
      let frame: { w: number; h: number } | undefined;
      for (const r of rows()) {
        const figure = r.content.figures[0];
        const size = figure && sizeOf(figure.shot);
        if (r.content.type !== "step" || !figure || !size) {
          if (r.content.type !== "step") frame = undefined;
          continue;
        }
        const now = core.figure({ figure: { ...figure, marks: [] }, shot: size, first: 1 }).frame;
        const near = (a: number, b: number) => Math.abs(a - b) <= 0.08 * Math.max(a, b);
        if (frame && (now.w !== frame.w || now.h !== frame.h) && near(now.w, frame.w) && near(now.h, frame.h)) {
          const even = core.evened(figure, size, frame);
          evened.set(figure.id, even);
        } else frame = { w: Math.round(now.w), h: Math.round(now.h) };
      }
      draft.patchAll("Give pictures the same crop", ({ content }) =>
        withFigures(content, (f) => evened.get(f.id) ?? f),
      );
    },
    roomier: () => draft.setFacts("Write for another layout", { layout: core.roomier(layout()) || layout() }),
  };
}
