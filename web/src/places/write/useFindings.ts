import { ask } from "../../base/api/ask";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { Facts, Finding, Other } from "../../base/api/client";
import { core } from "../../base/core/core";
import { format } from "../../base/api/format";
import { same } from "../../base/api/content";
import type { Row } from "../../parts/document/model";
import type { Picture } from "../../parts/document/picture";

export type Findings = { all: Finding[]; of: (block: string) => Finding[] };

const none: Finding[] = [];
const looksAfter = 1500; // milliseconds
const quiet = 200; // milliseconds without a change before the check runs, so that typing never waits for it

type PictureOf = (shot: string) => Picture;

type Around = Record<string, Other> | undefined;

function check(id: string, kind: string, facts: Facts, rows: Row[], pictureOf: PictureOf, around: Around) {
  const shots = rows.flatMap((r) => r.content.figures.map((f) => f.shot));
  const sizes = Object.fromEntries(
    shots.flatMap((shot) => {
      const { size } = pictureOf(shot);
      return size ? [[shot, size]] : [];
    }),
  );
  const blocks = rows.map((r) => ({ id: r.id, ...r.content }));
  return core.check({ format, id, kind, facts, blocks }, sizes, around);
}

/** What the readiness check says of a document. A block's findings stay the same list while they say the same. */
export function useFindings(
  id: string,
  kind: string,
  facts: Facts,
  rows: Row[],
  pictureOf: PictureOf,
  around: Around,
  saved: number,
): Findings {
  const [grouped, setGrouped] = useState(() => group(check(id, kind, facts, rows, pictureOf, around), new Map()));
  useEffect(() => {
    const look = () => check(id, kind, facts, rows, pictureOf, around);
    const timer = setTimeout(() => setGrouped((old) => group(look(), old.blocks)), quiet);
    return () => clearTimeout(timer);
  }, [id, kind, facts, rows, pictureOf, around]);
  // What needs the text in the pictures is found by the server, once what was written is saved and a moment is quiet.
  const [settled, setSettled] = useState(saved);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(saved), looksAfter);
    return () => clearTimeout(timer);
  }, [saved]);
  const looks = useQuery({
    ...ask("/api/documents/{document}/looks", { path: { document: id } }, settled),
    placeholderData: keepPreviousData,
  });
  return useMemo(() => {
    const there = new Set(rows.map((r) => r.id));
    const more = (looks.data ?? []).filter((f) => f.block && there.has(f.block));
    const blocks = new Map(grouped.blocks);
    for (const f of more) if (f.block) blocks.set(f.block, [...(blocks.get(f.block) ?? []), f]);
    return { all: [...grouped.all, ...more], of: (block) => blocks.get(block) ?? none };
  }, [grouped, looks.data, rows]);
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
