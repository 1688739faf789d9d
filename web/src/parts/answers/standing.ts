import type { Incoming } from "../../base/api/client";
import { shown } from "../../base/ui/shown";

/** How a request stands, in words. */
export function standing(a: Incoming): string {
  const by = a.taken ? ` by ${shown(a.taken)}` : "";
  return { new: "Nobody has taken it", taken: `Taken${by}`, answered: `Answered${by}`, closed: "Closed" }[a.state];
}
