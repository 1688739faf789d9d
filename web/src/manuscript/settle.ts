import type { Finding, Layout } from "../api/client";
import { core } from "../core/core";
import type { Draft } from "./draft";
import type { Row } from "./model";

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
  const after = (r: Row, content: Row["content"]) => ({ id: r.id, after: { order: r.order, removed: false, content } });
  const sizeOf = (shot: string) => {
    const s = draft.shots.get(shot);
    return s && { w: s.width, h: s.height };
  };
  return {
    reword: (findings) => {
      const changed = new Map<string, Row["content"]>();
      for (const f of findings) {
        const row = rows().find((r) => r.id === f.block);
        if (!row || !f.to) continue;
        const content = changed.get(row.id) ?? row.content;
        changed.set(row.id, { ...content, words: core.reworded(content.words, f.from ?? "", f.to) });
      }
      draft.edit(
        findings.length > 1 ? "Take the proposed wording everywhere" : "Take the proposed wording",
        rows().flatMap((r) => {
          const content = changed.get(r.id);
          return content ? [after(r, content)] : [];
        }),
      );
    },
    crop: (finding) => {
      const row = rows().find((r) => r.id === finding.block);
      const figure = row?.content.figures.find((f) => f.id === finding.figure);
      const size = figure && sizeOf(figure.shot);
      if (!row || !figure || !size || !figure.marks.some((m) => m.kind === "box")) return false;
      const cropped = core.shown(figure, size, "near");
      const figures = row.content.figures.map((f) => (f.id === figure.id ? cropped : f));
      draft.edit("Crop to what matters", [after(row, { ...row.content, figures })]);
      return true;
    },
    even: () => {
      const changes: ReturnType<typeof after>[] = [];
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
          changes.push(after(r, { ...r.content, figures: [even, ...r.content.figures.slice(1)] }));
        } else frame = { w: Math.round(now.w), h: Math.round(now.h) };
      }
      draft.edit("Give pictures the same crop", changes);
    },
    roomier: () =>
      draft.setFacts("Write for another layout", { ...draft.facts, layout: core.roomier(layout()) || layout() }),
  };
}
