import { type RefObject, useCallback, useMemo } from "react";
import type { Thread } from "../../base/api/client";
import { useCommenting, useNextComment } from "../../parts/comments/commenting";
import type { Draft } from "../../parts/document/draft";
import type { Row } from "../../parts/document/model";
import type { PageHandle } from "./Page";
import { useSuggestions } from "./useSuggestions";

/** What colleagues say of the document, and the ways to it. */
export function useSaid(id: string, draft: Draft, rows: Row[], page: RefObject<PageHandle | null>) {
  const commenting = useCommenting(id);
  const { threads } = commenting;
  const order = useMemo(() => rows.map((r) => r.id), [rows]);
  const onGo = useCallback(
    (t: Thread) => {
      if (t.place.block) page.current?.show(t.place.block);
      setTimeout(() => document.querySelector<HTMLElement>(`[data-thread="${t.id}"]`)?.focus(), 120); // it is there then
    },
    [page],
  );
  useNextComment(threads, order, onGo);
  const pinned = useMemo(() => ({ threads, onGo }), [threads, onGo]);
  return { commenting, pinned, ...useSuggestions(id, draft, threads) };
}
