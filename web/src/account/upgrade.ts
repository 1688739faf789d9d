import type { Figure, StepContent } from "../api/client";
import { core } from "../core/core";
import type { StepState } from "../manuscript/model";
import { type DraftRecord, format, type KeptEdit, type MarkedShot, storage } from "./storage";

// What was kept by an older Raconte is read up by the core's one chain of upgrades, as everything stored is.

const content = (of: StepContent, from = 2): StepContent => (from >= format ? of : core.upgrade(of, from));

const figure = (of: Figure, from?: number): Figure =>
  content({ words: { type: "doc" }, figures: [of] }, from).figures[0] ?? of;

const state = (of: StepState, from?: number): StepState => ({ ...of, content: content(of.content, from) });

export const draftOf = (kept: DraftRecord): DraftRecord => ({
  ...kept,
  pending: kept.pending.map((p) => ({ ...p, state: state(p.state, kept.format) })),
});

export const editOf = ({ format: from, ...edit }: KeptEdit) => ({
  ...edit,
  steps: edit.steps.map((s) => ({ ...s, before: state(s.before, from), after: state(s.after, from) })),
});

/** What was marked on a shot without a document. */
export async function readFigure(shot: string): Promise<MarkedShot | undefined> {
  const kept = await storage.figure(shot);
  return (
    kept && {
      figure: figure(kept.figure, kept.format),
      past: kept.past.map((f) => figure(f, kept.format)),
      future: kept.future.map((f) => figure(f, kept.format)),
    }
  );
}
