import { useEffect, useState } from "react";
import type { Facts, Finding } from "../api/client";
import { core, format } from "../core/core";
import { type Row, same } from "./model";
import type { Picture } from "./picture";

export type Findings = { all: Finding[]; of: (block: string) => Finding[] };

const none: Finding[] = [];
const quiet = 200; // milliseconds without a change before the check runs, so that typing never waits for it

type PictureOf = (shot: string) => Picture;

function check(id: string, facts: Facts, rows: Row[], pictureOf: PictureOf) {
  const shots = rows.flatMap((r) => r.content.figures.map((f) => f.shot));
  const sizes = Object.fromEntries(
    shots.flatMap((shot) => {
      const { size } = pictureOf(shot);
      return size ? [[shot, size]] : [];
    }),
  );
  const blocks = rows.map((r) => ({ id: r.id, ...r.content }));
  return core.check({ format, id, kind: "procedure", facts, blocks }, sizes);
}

/** What the readiness check says of a document. A block's findings stay the same list while they say the same. */
export function useFindings(id: string, facts: Facts, rows: Row[], pictureOf: PictureOf): Findings {
  const [grouped, setGrouped] = useState(() => group(check(id, facts, rows, pictureOf), new Map()));
  useEffect(() => {
    const timer = setTimeout(() => setGrouped((old) => group(check(id, facts, rows, pictureOf), old.blocks)), quiet);
    return () => clearTimeout(timer);
  }, [id, facts, rows, pictureOf]);
  return { all: grouped.all, of: (block) => grouped.blocks.get(block) ?? none };
}

function group(all: Finding[], before: Map<string, Finding[]>) {
  const blocks = new Map<string, Finding[]>();
  for (const f of all) {
    if (f.block) blocks.set(f.block, [...(blocks.get(f.block) ?? []), f]);
  }
  for (const [block, list] of blocks) {
    const old = before.get(block);
    if (old && same(old, list)) blocks.set(block, old);
  }
  return { all, blocks };
}
