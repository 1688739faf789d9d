import { useCallback } from "react";
import type { Thread } from "../api/client";
import { useSay } from "../comments/useComments";
import type { Draft } from "./draft";

/** Takes what was suggested into the draft, one or all; each can be undone like any other change. */
export function useSuggestions(id: string, draft: Draft, threads: Thread[]) {
  const { change } = useSay(id);
  const take = useCallback(
    (t: Thread) => {
      const row = draft.blocks().find((r) => r.id === t.place.block);
      const { words, figure } = t.suggestion ?? {};
      if (!row) return;
      draft.write(row.id, "Take a suggestion", {
        ...row.content,
        ...(words && { words }),
        ...(figure && { figures: row.content.figures.map((f) => (f.id === figure.id ? figure : f)) }),
      });
    },
    [draft],
  );
  const takeAll = () => {
    const taken = new Set<string>(); // of several for one step or picture only the first is taken; the others stay open
    for (const t of threads) {
      const about = t.place.figure ?? t.place.block ?? "";
      if (!takeable(t) || taken.has(about)) continue;
      taken.add(about);
      take(t);
      change.mutate({ comment: t.id, outcome: "taken" });
    }
  };
  return { take, takeAll };
}

const takeable = ({ suggestion: s }: Thread) => s && !s.outcome && (s.words ?? s.figure);
