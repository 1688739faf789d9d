import type { Thread } from "../../base/api/client";
import { core } from "../../base/core/core";

/** The words of a block on the page; undefined where they are not there. */
export const wordsOf = (block: string) => {
  const row = document.querySelector(`[data-block="${CSS.escape(block)}"]`);
  return (
    row?.querySelector<HTMLElement>("[data-words]") ?? row?.querySelector<HTMLElement>(".ProseMirror") ?? undefined
  );
};

/** The text of an element and the nodes that it stands in. */
function textOf(element: HTMLElement) {
  const nodes: { node: Text; from: number }[] = [];
  let text = "";
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if (node.parentElement?.closest("[aria-hidden=true], .sr-only")) continue;
    if (!(node instanceof Text)) continue;
    nodes.push({ node, from: text.length });
    text += node.data;
  }
  return { text, nodes };
}

/** Characters are counted as the core does: a sign of two halves is one. */
const units = (text: string, characters: number) => [...text].slice(0, characters).join("").length;
const characters = (text: string, units: number) => [...text.slice(0, units)].length;

/** Where the words of a comment stand on the page now. */
export function rangeOf(thread: Thread): Range | undefined {
  const { block, words } = thread.place;
  const element = block ? wordsOf(block) : undefined;
  if (!element || !words) return undefined;
  const { text, nodes } = textOf(element);
  const { from, to, found } = core.findQuote(words, text);
  if (!found) return undefined;
  const place = (at: number, end: boolean) => {
    const offset = units(text, at);
    const n = nodes.findLast((n) => (end ? n.from < offset : n.from <= offset)) ?? nodes[0];
    return n && { node: n.node, offset: Math.min(offset - n.from, n.node.data.length) };
  };
  const start = place(from, false);
  const stop = place(to, true);
  if (!start || !stop) return undefined;
  const range = document.createRange();
  range.setStart(start.node, start.offset);
  range.setEnd(stop.node, stop.offset);
  return range;
}

type Words = { text?: string; content?: Words[] };

/** Whether the words of a comment can still be found in those of a block, also where that is not on the page. */
export function stillThere(thread: Thread, words: Words): boolean {
  const reading = (n: Words): string => (n.text ?? "") + (n.content ?? []).map(reading).join("");
  return !thread.place.words || core.findQuote(thread.place.words, reading(words)).found;
}

const isBefore = (a: Node, b: Node) => (a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0;

/** The words that are chosen on the page, and the block that they stand in. */
export function chosenWords() {
  const selection = getSelection();
  if (!selection || selection.isCollapsed || selection.rangeCount === 0) return undefined;
  const range = selection.getRangeAt(0);
  const start = range.startContainer instanceof Element ? range.startContainer : range.startContainer.parentElement;
  const element = start?.closest<HTMLElement>("[data-words], .ProseMirror");
  const block = start?.closest<HTMLElement>("[data-block]")?.dataset.block;
  if (!element || !block || !element.contains(range.endContainer)) return undefined;
  const { text, nodes } = textOf(element);
  const at = (node: Node, offset: number) => {
    const inside = nodes.find((n) => n.node === node);
    if (inside) return characters(text, inside.from + offset);
    const child = node.childNodes[offset]; // a place between elements
    const next = child && nodes.find((n) => child.contains(n.node) || isBefore(child, n.node));
    return next ? characters(text, next.from) : [...text].length;
  };
  const from = at(range.startContainer, range.startOffset);
  const to = at(range.endContainer, range.endOffset);
  if (from === to) return undefined;
  return { block, words: core.quoteOf(text, from, to) };
}
