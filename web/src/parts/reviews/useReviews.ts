import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, expect } from "../../base/api/client";
import { useEvents } from "../../base/api/events";

/** To whom a document was sent, and what they say, live. */
export function useReviews(document: string) {
  const client = useQueryClient();
  const list = useQuery({
    queryKey: ["reviews", document],
    queryFn: () => expect(api.GET("/api/documents/{document}/reviews", { params: { path: { document } } })),
  });
  const refresh = () => {
    void client.invalidateQueries({ queryKey: ["reviews", document] });
    void client.invalidateQueries({ queryKey: ["approval", document] });
  };
  useEvents({
    reviews: (e) => e.document === document && refresh(),
    // What is written makes answers old; where nobody was asked, that is nothing to ask about again.
    document: (e) => e.document === document && list.data?.some((r) => !r.closedAt) && refresh(),
    opened: refresh,
  });
  return list;
}

/** What is asked for before a revision is released. */
export const useApproval = (document: string) =>
  useQuery({
    queryKey: ["approval", document],
    queryFn: () => expect(api.GET("/api/documents/{document}/approval", { params: { path: { document } } })),
  });
