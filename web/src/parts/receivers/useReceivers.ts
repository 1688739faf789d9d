import { beside } from "../../base/api/beside";
import { ask, type Question } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, expect } from "../../base/api/client";
import type { components } from "../../base/api/schema";

/** Where reports and requests can go. */
export const useReceivers = () => useQuery({ ...ask("/api/receivers"), staleTime: 30_000 });

type Parcel = components["schemas"]["Parcel"];

/** What would go; clips are waited for that are being made. */
async function parcelOf(document: string, receiver: string, signal: AbortSignal): Promise<Parcel> {
  for (;;) {
    const answer = await api.GET("/api/documents/{document}/parcel", {
      params: { path: { document }, query: { receiver } },
      signal,
    });
    if (answer.response.status !== 202) return (await expect(Promise.resolve(answer))) as Parcel;
    await new Promise((done) => setTimeout(done, 800));
    signal.throwIfAborted();
  }
}

/** What of a document would go to a receiver. */
export const useParcel = (document: string, receiver: string, seq: number) =>
  useQuery({
    queryKey: ["/api/documents/{document}/parcel", { path: { document } }, receiver, seq] satisfies [
      Question,
      ...unknown[],
    ],
    enabled: receiver !== "",
    retry: false,
    queryFn: ({ signal }) => parcelOf(document, receiver, signal),
  });

export const parcelFile = (document: string, receiver: string, file: number, seq: number) =>
  `/api/documents/${encodeURIComponent(document)}/parcel/${file}?receiver=${encodeURIComponent(receiver)}&at=${seq}`;

/** Where a document was sent, as it goes there. */
export function useSendings(document: string) {
  const path = { document };
  const list = useQuery(ask("/api/documents/{document}/sendings", { path }));
  const send = useMutation({
    ...beside,
    mutationFn: (receiver: string) =>
      expect(api.POST("/api/documents/{document}/sendings", { params: { path }, body: { receiver } })),
  });
  const stop = useMutation({
    ...beside,
    mutationFn: (sending: string) =>
      expect(api.DELETE("/api/documents/{document}/sendings/{sending}", { params: { path: { ...path, sending } } })),
  });
  return { list, send, stop };
}
