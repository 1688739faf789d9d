import type { Content, Facts, Figure } from "../api/client";
import { core } from "../core/core";
import { format } from "../api/format";
import { tidy } from "../api/content";
import type { BlockState, Edit } from "./storage";
import { type DraftRecord, type KeptEdit, type MarkedShot, type OldDraft, type OldEdit, storage } from "./storage";

// What was kept by an older Raconte is read up by the core's one chain of upgrades, as everything stored is.

const content = (of: Content, from = 2): Content => (from >= format ? of : tidy(core.upgrade(of, from)));

const figure = (of: Figure, from?: number): Figure =>
  content({ type: "step", words: { type: "doc" }, figures: [of] }, from).figures[0] ?? of;

const state = (of: BlockState, from?: number): BlockState => ({ ...of, content: content(of.content, from) });

/** Facts as of today: layouts were counted once. */
const factsOf = (facts: Facts): Facts => (typeof facts.layout === "number" ? core.facts(facts) : facts);

export function draftOf(kept: DraftRecord | OldDraft): DraftRecord {
  const pending = kept.pending.map((p) => ({ ...p, state: state(p.state, kept.format) }));
  if (!("title" in kept)) {
    const now = kept as DraftRecord;
    const facts = now.facts && { ...now.facts, facts: factsOf(now.facts.facts) };
    return { ...now, pending, ...(facts && { facts }) };
  }
  const { title, ...rest } = kept;
  return { ...rest, pending, ...(title && { facts: { base: title.base, facts: { title: title.text } } }) };
}

export function editOf({ format: from, ...kept }: KeptEdit | OldEdit): Edit {
  const blocks = ("steps" in kept ? kept.steps : kept.blocks).map((b) => ({
    ...b,
    before: state(b.before, from),
    after: state(b.after, from),
  }));
  if (!("steps" in kept)) {
    const facts = kept.facts && { before: factsOf(kept.facts.before), after: factsOf(kept.facts.after) };
    return { ...kept, blocks, ...(facts && { facts }) };
  }
  const { label, at, title } = kept;
  const facts = title && { before: { title: title.before }, after: { title: title.after } };
  return { label, at, blocks, ...(facts && { facts }) };
}

/** What was marked on a shot without a document. */
export async function readFigure(shot: string): Promise<MarkedShot | undefined> {
  const kept = await storage.figure(shot);
  if (!kept) return undefined;
  const read = (f: Figure) => figure(f, kept.format);
  if ("deeds" in kept) {
    const deeds = kept.deeds.map((d) => ({ ...d, before: read(d.before), after: read(d.after) }));
    return { figure: read(kept.figure), deeds, position: kept.position };
  }
  // Until format 3 only the states before and after were kept.
  const states = [...kept.past, kept.figure, ...[...kept.future].reverse()].map(read);
  const deeds = states.slice(1).flatMap((after, i) => {
    const before = states[i];
    return before ? [{ label: "Mark the picture", at: 0, before, after }] : [];
  });
  return { figure: read(kept.figure), deeds, position: kept.past.length };
}
