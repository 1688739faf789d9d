import { expect, test } from "vitest";
import type { Block, Folder } from "../../base/api/client";
import { laidOut } from "../library/FolderChoice";
import { answers, before, heads, isStep, parts, says } from "./parts";
import { sure } from "../../base/typed";

const block = (id: string, type: string, text = id): Block =>
  ({
    id,
    content: {
      type,
      words: { type: "doc", content: [{ type: "paragraph", ...(text && { content: [{ type: "text", text }] }) }] },
      figures: [],
    },
  }) as unknown as Block;

const ids = (blocks: Block[]) => blocks.map((b) => b.id).join("");

test("a document is told by its sections and chapters; what stands before the first has no heading", () => {
  const all = [
    block("a", "passage"),
    block("b", "step"),
    block("C", "chapter"),
    block("d", "passage"),
    block("E", "section"),
    block("f", "step"),
    block("g", "step"),
  ];
  expect(parts(all).map((p) => `${p.heading?.id ?? "-"}:${ids(p.blocks)}`)).toEqual(["-:ab", "C:d", "E:fg"]);
  expect(parts([block("A", "section")]).map((p) => p.blocks.length)).toEqual([0]);
  expect(parts([])).toEqual([]);
  expect(all.filter(heads).length + all.filter(isStep).length).toBe(5);
});

test("a step that is followed alone brings the passages right before it", () => {
  const all = [
    block("a", "passage"),
    block("b", "passage"),
    block("c", "step"),
    block("d", "step"),
    block("e", "passage"),
  ];
  expect(ids(before(all, sure(all[2])))).toBe("ab");
  expect(ids(before(all, sure(all[3])))).toBe("");
});

test("a step that only hands over has no words to show", () => {
  expect(says(block("a", "step", ""))).toBe(false);
  expect(says(block("a", "step", "Once for each lot"))).toBe(true);
  const refers = block("a", "step", "");
  (refers.content.words as { content: unknown[] }).content = [
    { type: "paragraph", content: [{ type: "reference", attrs: { kind: "step", to: "b" } }] },
  ];
  expect(says(refers)).toBe(true);
});

test("folders lie below those around them, and at the top where those can't be opened", () => {
  const folder = (id: string, parent?: string) => ({ id, name: id, parent }) as Folder;
  const all = [folder("deep", "inner"), folder("inner", "top"), folder("other", "shut"), folder("top")];
  expect(laidOut(all).map((f) => `${f.folder.id} ${f.depth}`)).toEqual(["other 0", "top 0", "inner 1", "deep 2"]);
});

test("a request is answered by its answer, or by what stands below it", () => {
  const asks = (b: Block, question: string) => ({ ...b, content: { ...b.content, asks: question } }) as Block;
  const wrong = asks(block("a", "passage", "It is dark"), "wrong");
  expect([wrong, asks(block("b", "passage", ""), "reply")].some(answers)).toBe(false);
  expect([wrong, asks(block("b", "passage", "Press it"), "reply")].some(answers)).toBe(true);
  expect([wrong, asks(block("b", "passage", ""), "reply"), block("c", "step")].some(answers)).toBe(true);
});
