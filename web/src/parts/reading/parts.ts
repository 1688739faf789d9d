import type { Block } from "../../base/api/client";

/** The steps and passages by the section they are in; those before the first have none. */
export function parts(blocks: Block[]) {
  const all: { heading?: Block; blocks: Block[] }[] = [];
  for (const b of blocks) {
    if (heads(b)) all.push({ heading: b, blocks: [] });
    else {
      if (all.length === 0) all.push({ blocks: [] });
      all[all.length - 1]?.blocks.push(b);
    }
  }
  return all;
}

export const heads = (b: Block) => b.content.type === "section" || b.content.type === "chapter";
export const isStep = (b: Block) => b.content.type === "step";

/** The passages that stand right before a step. */
export function before(blocks: Block[], step: Block): Block[] {
  const at = blocks.indexOf(step);
  let from = at;
  while (from > 0 && blocks[from - 1]?.content.type === "passage") from--;
  return blocks.slice(from, at);
}

/** Whether a block has any words: a step that hands over may have none. */
export const says = (b: Block) => /"(text|mark|to)":/.test(JSON.stringify(b.content.words));

/** Whether nobody has answered the question of a passage. */
export const unanswered = (b: Block) => b.content.asks !== undefined && !says(b) && b.content.figures.length === 0;

/** Whether a block of a request answers it: the answer, or what stands below it. */
export const answers = (b: Block) => (b.content.asks === "reply" ? !unanswered(b) : b.content.asks === undefined);
