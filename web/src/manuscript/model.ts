import type { StepContent } from "../api/client";

/** A step as it is on the page. Removed steps stay known, so that removing can be undone. */
export type StepState = { order: string; removed: boolean; content: StepContent };

/** A step as the server has it. */
export type Known = StepState & { version: number; by?: string };

/** One thing a person did, to be undone in one go. */
export type Edit = {
  label: string;
  steps: { id: string; before: StepState; after: StepState }[];
  title?: { before: string; after: string };
  at: number;
};

export type Row = { id: string } & StepState;

export type Status =
  | { kind: "saved"; at?: Date }
  | { kind: "saving" }
  | { kind: "kept"; why: string } // not on the server yet, kept in this browser
  | { kind: "conflict" };

export const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);

/** JSON in one order of keys, so that what went over the network compares equal. */
export function tidy<T>(value: T): T {
  if (Array.isArray(value)) return value.map(tidy) as T;
  if (value && typeof value === "object") {
    const entries = Object.entries(value).filter(([, v]) => v !== undefined);
    entries.sort(([a], [b]) => (a < b ? -1 : 1));
    return Object.fromEntries(entries.map(([k, v]) => [k, tidy(v)])) as T;
  }
  return value;
}

export const emptyContent = (): StepContent =>
  tidy({ words: { type: "doc", content: [{ type: "paragraph" }] } as StepContent["words"], figures: [] });
