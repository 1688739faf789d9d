import type { Item } from "../../parts/shots/shots";

/** Why a shot is likely not needed. */
export const reasons: Record<string, string> = {
  same: "The same as the one before",
  "same-but-pointer": "The same but for the pointer or caret",
  "same-but-clock": "The same but for the clock",
};
/** It shows what the one before shows. */
export const repeats = (i: Item) => i.taken !== undefined && i.taken.verdict in reasons;
