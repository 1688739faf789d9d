import { useCallback } from "react";
import type { Thread } from "../api/client";
import { useSay } from "../comments/useComments";
import type { Draft } from "./draft";

/** Takes words that were suggested into the draft, one or all; each can be undone like any other change. */
export function useSuggestions(id: string, draft: Draft, threads: Thread[]) {
  const { change } = useSay(id);
  const take = useCallback(
    (t: Thread) => {
      const row = draft.blocks().find((r) => r.id === t.place.block);
      if (row && t.suggestion) draft.write(row.id, "Take a suggestion", { ...row.content, words: t.suggestion.words });
    },
    [draft],
  );
  const takeAll = () => {
    const taken = new Set<string>(); // of several for one step only the first is taken; the others stay open
    for (const t of threads) {
      const block = t.place.block ?? "";
      if (!t.suggestion || t.suggestion.outcome || taken.has(block)) continue;
      taken.add(block);
      take(t);
      change.mutate({ comment: t.id, outcome: "taken" });
    }
  };
  return { take, takeAll };
}
