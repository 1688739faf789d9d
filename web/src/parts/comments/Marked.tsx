import { useEffect } from "react";
import type { Thread } from "../../base/api/client";
import { rangeOf } from "./marked";

/**
 * Marks the words on the page that comments are about. It is done after each change of the page; browsers that can't do
 * it mark none.
 */
export function Marked({ threads }: { threads: Thread[] }) {
  useEffect(() => {
    if (typeof Highlight === "undefined") return;
    const ranges = threads.flatMap((t) => rangeOf(t) ?? []);
    if (ranges.length === 0) CSS.highlights.delete("comment");
    else CSS.highlights.set("comment", new Highlight(...ranges));
  });
  useEffect(() => () => void (typeof Highlight !== "undefined" && CSS.highlights.delete("comment")), []);
  return null;
}
