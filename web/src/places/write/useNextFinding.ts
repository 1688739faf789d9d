import { useEffect, useRef } from "react";
import type { Finding } from "../../base/api/client";
import type { Row } from "../../parts/document/model";

/** Alt and Page Down lead to the next block with a finding, Alt and Page Up to the one before. */
export function useNextFinding(rows: Row[], findings: Finding[], go: (block: string) => void) {
  const at = useRef<string>(undefined);
  const latest = useRef({ rows, findings });
  useEffect(() => {
    latest.current = { rows, findings };
  });
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (!e.altKey || (e.key !== "PageDown" && e.key !== "PageUp")) return;
      const { rows, findings } = latest.current;
      const marked = rows.filter((r) => findings.some((f) => f.block === r.id));
      if (marked.length === 0) return;
      e.preventDefault();
      const focus = (document.activeElement?.closest("[data-block]") as HTMLElement | null)?.dataset.block;
      const here = rows.findIndex((r) => r.id === (focus ?? at.current));
      const place = (r: Row) => rows.indexOf(r);
      const next =
        e.key === "PageDown"
          ? (marked.find((r) => place(r) > here) ?? marked[0])
          : (marked.findLast((r) => place(r) < here) ?? marked.at(-1));
      if (!next) return;
      at.current = next.id;
      go(next.id);
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, [go]);
}
