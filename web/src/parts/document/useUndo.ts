import { useCallback, useLayoutEffect } from "react";
import { fields } from "../../base/ui/fields";
import { useNotice } from "../../base/ui/notices";
import type { Draft } from "./draft";

export type Travel = (how: "undo" | "redo") => void;

/** Undoing and doing again, by Ctrl+Z and Ctrl+Y, wherever nobody writes in a field. */
export function useUndo(draft: Draft): Travel {
  const notice = useNotice();
  const travel = useCallback<Travel>(
    (how) => {
      const said = draft[how]();
      if (said) notice({ text: said });
    },
    [draft, notice],
  );
  useUndoKeys(travel);
  return travel;
}

export function useUndoKeys(travel: Travel) {
  useLayoutEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.altKey) return;
      const letter = e.key.toLowerCase();
      if ((letter !== "z" && letter !== "y") || (e.target as HTMLElement).matches(fields)) return;
      e.preventDefault();
      e.stopPropagation();
      travel(letter === "z" && !e.shiftKey ? "undo" : "redo");
    };
    addEventListener("keydown", key, true);
    return () => removeEventListener("keydown", key, true);
  }, [travel]);
}
