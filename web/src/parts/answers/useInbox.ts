import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, expect } from "../../base/api/client";

type State = "new" | "taken" | "answered" | "closed";

/** Requests that came in. */
export function useInbox(query: { state?: State; mine?: boolean; text?: string }) {
  const list = useQuery(ask("/api/inbox", { query }));
  return list;
}

/** How a document stands that came in as a request. */
export function useAsked(document: string) {
  const path = { document };
  const query = useQuery(ask("/api/documents/{document}/asked", { path }));
  const set = useMutation({
    ...beside,
    mutationFn: (state: "taken" | "answered" | "closed") =>
      expect(api.PUT("/api/documents/{document}/asked", { params: { path }, body: { state } })),
  });
  return { asked: query.data?.request, set };
}
