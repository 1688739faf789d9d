import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEvents } from "../../base/api/events";

/** To whom a document was sent, and what they say, live. */
export function useReviews(document: string) {
  const list = useQuery(ask("/api/documents/{document}/reviews", { path: { document } }));
  // What is written makes answers old; where nobody was asked, that is nothing to ask about again.
  useEvents({ document: (e) => e.document === document && list.data?.some((r) => !r.closedAt) && void list.refetch() });
  return list;
}

/** What is asked for before a revision is released. */
export const useApproval = (document: string) =>
  useQuery(ask("/api/documents/{document}/approval", { path: { document } }));
