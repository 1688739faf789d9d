import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, expect } from "../../base/api/client";
import { useEvents } from "../../base/api/events";

type State = "new" | "taken" | "answered" | "closed";

/** Requests that came in. */
export function useInbox(query: { state?: State; mine?: boolean; text?: string }) {
  const list = useQuery({
    queryKey: ["inbox", query],
    queryFn: ({ signal }) => expect(api.GET("/api/inbox", { params: { query }, signal })),
  });
  const refresh = () => void list.refetch();
  useEvents({ inbox: refresh, opened: refresh });
  return list;
}

/** How a document stands that came in as a request. */
export function useAsked(document: string) {
  const client = useQueryClient();
  const path = { document };
  const key = ["asked", document];
  const query = useQuery({
    queryKey: key,
    queryFn: () => expect(api.GET("/api/documents/{document}/asked", { params: { path } })),
  });
  useEvents({ inbox: (e) => e.document === document && void client.invalidateQueries({ queryKey: key }) });
  const set = useMutation({
    mutationFn: (state: "taken" | "answered" | "closed") =>
      expect(api.PUT("/api/documents/{document}/asked", { params: { path }, body: { state } })),
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
  return { asked: query.data?.request, set };
}
