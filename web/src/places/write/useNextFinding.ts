import { useRef } from "react";
import type { Finding } from "../../base/api/client";
import { useKeys } from "../../base/keys/useKeys";
import type { Row } from "../../parts/document/model";

/** Alt, Shift and Page Down lead to the next block with a finding, with Page Up to the one before. */
export function useNextFinding(rows: Row[], findings: Finding[], go: (block: string) => void) {
  const at = useRef<string>(undefined);
  const step = (by: 1 | -1) => {
    const marked = rows.filter((r) => findings.some((f) => f.block === r.id));
    const focus = document.activeElement?.closest<HTMLElement>("[data-block]")?.dataset.block;
    const here = rows.findIndex((r) => r.id === (focus ?? at.current));
    const place = (r: Row) => rows.indexOf(r);
    const next =
      by > 0
        ? (marked.find((r) => place(r) > here) ?? marked[0])
        : (marked.findLast((r) => place(r) < here) ?? marked.at(-1));
    if (!next) return false;
    at.current = next.id;
    return go(next.id);
  };
  useKeys("Findings", [
    { keys: "Alt+Shift+Page Down", does: "Go to the next finding", writing: "fields", run: () => step(1) },
    { keys: "Alt+Shift+Page Up", does: "Go to the finding before", writing: "fields", run: () => step(-1) },
  ]);
}
