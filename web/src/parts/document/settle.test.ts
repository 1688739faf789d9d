import { expect, test, vi } from "vitest";
import type { Content, Finding } from "../../base/api/client";
import type { Draft } from "./draft";
import type { Row } from "./model";
import { settleIn } from "./settle";

type Figure = Content["figures"][number];

vi.mock("../../base/core/core", () => ({
  core: {
    reworded: (words: { said: string }, from: string, to: string) => ({
      said: from ? words.said.replaceAll(from, to) : `${words.said}+${to}`,
    }),
    figure: ({ figure }: { figure: Figure }) => ({ frame: { x: 0, y: 0, ...figure.crop } }),
    evened: (figure: Figure, _: unknown, frame: { w: number; h: number }) => ({
      ...figure,
      crop: { x: 0, y: 0, ...frame },
    }),
    shown: (figure: Figure) => ({ ...figure, crop: { x: 1, y: 1, w: 9, h: 9 } }),
    roomier: () => "two",
  },
}));

const row = (id: string, type: string, said: string, w = 0): Row =>
  ({
    id,
    order: id,
    removed: false,
    content: {
      type,
      words: { said },
      figures: w ? [{ id: `f${id}`, shot: "s", alt: "", marks: [], crop: { x: 0, y: 0, w, h: 300 } }] : [],
    },
  }) as unknown as Row;

function draftOf(rows: Row[]) {
  const edits: { label: string; after: Record<string, Content> }[] = [];
  const draft = {
    blocks: () => rows,
    patch: (label: string, ids: string[], change: (row: Row) => Content) => {
      const changed = rows.filter((r) => ids.includes(r.id)).map((r) => [r, change(r)] as const);
      const after = Object.fromEntries(changed.flatMap(([r, c]) => (c === r.content ? [] : [[r.id, c]])));
      edits.push({ label, after });
    },
    patchAll: (label: string, change: (row: Row) => Content) =>
      draft.patch(
        label,
        rows.map((r) => r.id),
        change,
      ),
    shots: new Map([["s", { id: "s", width: 1600, height: 900, name: "s" }]]),
    facts: { title: "T" },
    edit: (label: string, changes: { id: string; after: { content: Content } }[]) =>
      edits.push({ label, after: Object.fromEntries(changes.map((c) => [c.id, c.after.content])) }),
    setFacts: (label: string, facts: unknown) => edits.push({ label, after: { facts: facts as Content } }),
  };
  return { settle: settleIn(draft as unknown as Draft, () => "running"), edits };
}

const finding = (block: string, from: string, to: string): Finding => ({
  severity: "worth-a-look",
  rule: "spelling",
  block,
  from,
  to,
  title: "",
  advice: "",
});

test("the proposed wording is taken in one place, or in all in one edit, two in one step too", () => {
  const { settle, edits } = draftOf([row("a", "step", "Recieve lot, Prnit"), row("b", "step", "Recieve lot")]);
  settle.reword([
    finding("a", "Recieve", "Receive"),
    finding("a", "Prnit", "Print"),
    finding("b", "Recieve", "Receive"),
  ]);
  expect(edits).toHaveLength(1);
  expect(edits[0]?.after).toMatchObject({
    a: { words: { said: "Receive lot, Print" } },
    b: { words: { said: "Receive lot" } },
  });
  settle.reword([finding("b", "", "Room")]);
  expect(edits[1]?.after.b).toMatchObject({ words: { said: "Recieve lot+Room" } });
  settle.reword([finding("gone", "a", "b")]);
  expect(edits[2]?.after).toEqual({});
});

test("pictures that differ by little get the first one's crop, section by section; others stay", () => {
  const { settle, edits } = draftOf([
    row("a", "step", "", 500),
    row("b", "step", "", 490),
    row("c", "step", "", 900), // not meant to be the same
    row("S", "section", ""),
    row("d", "step", "", 480),
    row("e", "step", "", 500),
  ]);
  settle.even();
  expect(Object.entries(edits[0]?.after ?? {}).map(([id, c]) => [id, c.figures[0]?.crop?.w])).toEqual([
    ["b", 500],
    ["e", 480],
  ]);
});

test("a picture is cropped to what is marked; one without a box is left to a person", () => {
  const boxed = row("a", "step", "", 500);
  boxed.content.figures[0]?.marks.push({ kind: "box" } as Figure["marks"][number]);
  const { settle, edits } = draftOf([boxed, row("b", "step", "", 500)]);
  expect(settle.crop({ ...finding("a", "", ""), figure: "fa" })).toBe(true);
  expect(edits[0]?.after.a?.figures[0]?.crop?.w).toBe(9);
  expect(settle.crop({ ...finding("b", "", ""), figure: "fb" })).toBe(false);
  settle.roomier();
  expect(edits[1]?.after.facts).toMatchObject({ layout: "two" });
});
