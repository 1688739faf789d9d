import "fake-indexeddb/auto";
import { expect, test, vi } from "vitest";
import type { Content, Figure } from "../../base/api/client";
import { Past } from "./past";
import { format } from "../../base/api/format";
import { enter, storage } from "../../base/storage/storage";
import { draftOf, editOf, readFigure } from "../../base/storage/upgrade";

// The core's chain of upgrades is tested where it is; here it only marks what has gone through it.
vi.mock("../../base/core/core", () => ({
  core: {
    facts: (f: object) => ({ ...f, layout: "two" }),
    upgrade: (c: Content, from: number) => ({
      ...c,
      type: "step",
      figures: c.figures.map((f) => ({ ...f, alt: `from ${from}` })),
    }),
  },
}));

const old = (text: string) =>
  ({ order: "a", removed: false, content: { words: { text }, figures: [{ id: "f" }] } }) as never;
const figure = (id: string) => ({ id, shot: "s", alt: "", marks: [] }) as Figure;

test("a draft of format 3 keeps its unsaved steps and its unsaved title", () => {
  const read = draftOf({
    format: 3,
    pending: [{ id: "x", base: 2, state: old("One") }],
    position: 5,
    title: { base: 7, text: "T" },
  });
  expect(read).toMatchObject({
    pending: [
      { id: "x", base: 2, state: { content: { type: "step", words: { text: "One" }, figures: [{ alt: "from 3" }] } } },
    ],
    facts: { base: 7, facts: { title: "T" } },
    position: 5,
  });
  const now = {
    format,
    pending: [{ id: "x", base: 2, state: old("One") }],
    position: 5,
    facts: { base: 7, facts: { title: "T" } },
  };
  expect(draftOf(now), "what is of today is left alone").toEqual(now);
});

test("facts of format 6, with a layout that was counted, are read up in a draft and in its edits", () => {
  const facts = (layout: unknown) => ({ title: "T", layout }) as never;
  const read = draftOf({ format: 6, pending: [], position: 0, facts: { base: 1, facts: facts(2) } });
  expect(read.facts).toEqual({ base: 1, facts: { title: "T", layout: "two" } });
  const edit = editOf({
    format: 6,
    label: "Write for another layout",
    at: 1,
    blocks: [],
    facts: { before: facts("six"), after: facts(2) },
  });
  expect(edit.facts).toEqual({ before: { title: "T", layout: "six" }, after: { title: "T", layout: "two" } });
});

test("an edit of format 3 can still be undone, its change of the title too", () => {
  const kept = {
    format: 3,
    label: "Type",
    at: 9,
    steps: [{ id: "x", before: old("A"), after: old("B") }],
    title: { before: "T", after: "U" },
  };
  expect(editOf(kept)).toMatchObject({
    label: "Type",
    at: 9,
    blocks: [
      {
        id: "x",
        before: { content: { words: { text: "A" } } },
        after: { content: { type: "step", words: { text: "B" } } },
      },
    ],
    facts: { before: { title: "T" }, after: { title: "U" } },
  });
});

test("what was marked on a shot alone comes back with all that can be undone and done again", async () => {
  enter("ines");
  const [a, b, c, d] = ["a", "b", "c", "d"].map(figure) as [Figure, Figure, Figure, Figure];
  const db = await new Promise<IDBDatabase>((resolve) => {
    void storage
      .figure("s")
      .then(() => (indexedDB.open("raconte ines").onsuccess = (e) => resolve((e.target as IDBOpenDBRequest).result)));
  });
  await new Promise((resolve) => {
    const put = db
      .transaction("figures", "readwrite")
      .objectStore("figures")
      .put({ format: 3, figure: c, past: [a, b], future: [d] }, "s");
    put.onsuccess = resolve;
  });
  const read = await readFigure("s");
  const past = new Past(read?.deeds, read?.position);
  expect(read?.figure.id).toBe("c");
  expect([past.back()?.before.id, past.back()?.before.id, past.back()]).toEqual(["b", "a", undefined]);
  expect([past.on(), past.on(), past.on()].map((deed) => deed?.after.id)).toEqual(["b", "c", "d"]);
});

test("deeds of one kind a moment apart are one; another deed forgets what was undone", () => {
  const past = new Past<{ label: string; at: number; n: number }>();
  const join = (last: { n: number }) => ({ label: "Type", at: 0, n: last.n + 1 });
  past.add({ label: "Type", at: 0, n: 1 }, join);
  past.add({ label: "Type", at: 1000, n: 1 }, join);
  past.add({ label: "Type", at: 9000, n: 1 }, join);
  past.add({ label: "Move", at: 9001, n: 1 }, join);
  expect(past.deeds.map((d) => d.n)).toEqual([2, 1, 1]);
  past.back();
  expect([past.undoes, past.redoes]).toEqual(["Type", "Move"]);
  past.add({ label: "Delete", at: 9002, n: 1 });
  expect([past.undoes, past.redoes, past.position]).toEqual(["Delete", undefined, 3]);
});
