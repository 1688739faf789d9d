import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, expect, type Order } from "../../base/api/client";

/** The places of the house that files can be put to at each release; readers have none. */
export const usePlaces = (edits: boolean) => useQuery({ ...ask("/api/places"), enabled: edits, staleTime: Infinity });

/** The deliveries that are made again at each release. */
export const useStandings = (edits: boolean) =>
  useQuery({
    ...ask("/api/standings"),
    enabled: edits,
    refetchInterval: 5000, // they are made in the background
  });

/** Has a file made now and at each release. */
export function useStand(document: string) {
  return useMutation({
    ...beside,
    mutationFn: (body: { order: Order; place: string; path: string }) =>
      expect(api.POST("/api/documents/{document}/standings", { params: { path: { document } }, body })),
  });
}

/** Makes one now, or ends it. */
export function useStandingAct(act: "now" | "end") {
  return useMutation({
    ...beside,
    mutationFn: (standing: string) => {
      const path = { params: { path: { standing } } };
      return act === "now"
        ? expect(api.POST("/api/standings/{standing}", path))
        : expect(api.DELETE("/api/standings/{standing}", path));
    },
  });
}
