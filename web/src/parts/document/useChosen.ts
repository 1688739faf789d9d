import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Row } from "./model";

const none: ReadonlySet<string> = new Set();

/** The blocks that were chosen, to do something with all of them. */
export function useChosen(all: Row[]) {
  const [ids, setIds] = useState(none);
  const last = useRef<string>(undefined);
  const latest = useRef(all);
  useEffect(() => {
    latest.current = all;
  });
  /** Chooses a block, or chooses it no more; to extend chooses all from the last one on. */
  const choose = useCallback((id: string, extend: boolean) => {
    const rows = latest.current;
    const from = rows.findIndex((r) => r.id === last.current);
    const to = rows.findIndex((r) => r.id === id);
    setIds((was) => {
      const next = new Set(was);
      if (extend && from >= 0) rows.slice(Math.min(from, to), Math.max(from, to) + 1).forEach((r) => next.add(r.id));
      else if (!next.delete(id)) next.add(id);
      return next;
    });
    last.current = id;
  }, []);
  const rows = useMemo(() => all.filter((r) => ids.has(r.id)), [all, ids]);
  return { ids, rows, choose, none: useCallback(() => setIds(none), []) };
}
