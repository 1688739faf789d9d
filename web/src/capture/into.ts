import type { Content } from "../api/client";
import { type Item, shots } from "../shots/shots";
import { stepsOf } from "./placing";

/** A shot that was taken for a step that is being written. */
export type Into = { document: string; step: string; content: Content; item: Item };

let into: Into | undefined;

const longest = 20_000; // milliseconds that a shot may take to arrive
const look = 80; // milliseconds between looks

/** Hands a shot to the step that it was taken for, once the server has it; false where it does not arrive. */
export async function handInto(document: string, step: string, item: Item): Promise<boolean> {
  for (let waited = 0; waited < longest; waited += look) {
    const there = shots.list().find((i) => i.id === item.id && i.taken);
    if (there) {
      const [content] = await stepsOf([there]);
      if (!content) return false;
      into = { document, step, content, item: there };
      return true;
    }
    await new Promise((done) => setTimeout(done, look));
  }
  return false;
}

/** The shot that was taken for a step of a document, once. */
export function takeInto(document: string): Into | undefined {
  if (into?.document !== document) return undefined;
  const taken = into;
  into = undefined;
  return taken;
}
