import type { Content } from "../../base/api/client";
import type { Item } from "../shots/shots";
import { arrived } from "./after";
import { stepsOf } from "./placing";

/** A shot that was taken for a step that is being written. */
export type Into = { document: string; step: string; content: Content; item: Item };

let into: Into | undefined;

/** Hands a shot to the step that it was taken for, once the server has it; false where it does not arrive. */
export async function handInto(document: string, step: string, item: Item): Promise<boolean> {
  const there = await arrived(item.id);
  if (!there) return false;
  const [content] = await stepsOf([there]);
  if (!content) return false;
  into = { document, step, content, item: there };
  return true;
}

/** The shot that was taken for a step of a document, once. */
export function takeInto(document: string): Into | undefined {
  if (into?.document !== document) return undefined;
  const taken = into;
  into = undefined;
  return taken;
}
