import { useEffect, useState } from "react";
import type { Finding } from "../api/client";
import { core } from "../core/core";
import { type Row, same } from "./model";

export type Findings = { all: Finding[]; of: (step: string) => Finding[] };

const none: Finding[] = [];
const quiet = 200; // milliseconds without a change before the check runs, so that typing never waits for it

const check = (id: string, title: string, rows: Row[]) =>
  core.check({ id, kind: "procedure", title, steps: rows.map((r) => ({ id: r.id, ...r.content })) });

/** What the readiness check says of a document. A step's findings stay the same list while they say the same. */
export function useFindings(id: string, title: string, rows: Row[]): Findings {
  const [grouped, setGrouped] = useState(() => group(check(id, title, rows), new Map()));
  useEffect(() => {
    const timer = setTimeout(() => setGrouped((old) => group(check(id, title, rows), old.steps)), quiet);
    return () => clearTimeout(timer);
  }, [id, title, rows]);
  return { all: grouped.all, of: (step) => grouped.steps.get(step) ?? none };
}

function group(all: Finding[], before: Map<string, Finding[]>) {
  const steps = new Map<string, Finding[]>();
  for (const f of all) {
    if (f.step) steps.set(f.step, [...(steps.get(f.step) ?? []), f]);
  }
  for (const [step, list] of steps) {
    const old = before.get(step);
    if (old && same(old, list)) steps.set(step, old);
  }
  return { all, steps };
}
