import { useCallback } from "react";
import { useKeys } from "../../base/keys/useKeys";
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
  useKeys("What was done", [
    // Before an editor of words, which has a past of its own.
    { keys: "Ctrl+Z", does: "Undo", run: () => travel("undo"), writing: "words", first: true },
    { keys: ["Ctrl+Y", "Ctrl+Shift+Z"], does: "Do it again", run: () => travel("redo"), writing: "words", first: true },
  ]);
}
