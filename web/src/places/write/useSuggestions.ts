import { useCallback } from "react";
import type { Thread } from "../../base/api/client";
import { useSay } from "../../parts/comments/useComments";
import type { Draft } from "../../parts/document/draft";
import { withFigures } from "../../base/api/content";

/** Takes what was suggested into the draft, one or all; each can be undone like any other change. */
export function useSuggestions(id: string, draft: Draft, threads: Thread[]) {
  const { change } = useSay(id);
  const take = useCallback(
    (t: Thread) => {
      const { words, figure } = t.suggestion ?? {};
      draft.patch("Take a suggestion", [t.place.block ?? ""], ({ content }) => ({
        ...withFigures(content, (f) => (f.id === figure?.id ? figure : f)),
        ...(words && { words }),
      }));
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
