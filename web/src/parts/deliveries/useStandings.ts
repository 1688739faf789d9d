import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, expect, type Order } from "../../base/api/client";

const key = ["standings"];

/** The places of the house that files can be put to at each release; readers have none. */
export const usePlaces = (edits: boolean) =>
  useQuery({
    queryKey: ["places"],
    enabled: edits,
    staleTime: Infinity,
    queryFn: () => expect(api.GET("/api/places")),
  });

/** The deliveries that are made again at each release. */
export const useStandings = (edits: boolean) =>
  useQuery({
    queryKey: key,
    enabled: edits,
    refetchInterval: 5000, // they are made in the background
    queryFn: () => expect(api.GET("/api/standings")),
  });

/** Has a file made now and at each release. */
export function useStand(document: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { order: Order; place: string; path: string }) =>
      expect(api.POST("/api/documents/{document}/standings", { params: { path: { document } }, body })),
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
}

/** Makes one now, or ends it. */
export function useStandingAct(act: "now" | "end") {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (standing: string) => {
      const path = { params: { path: { standing } } };
      return act === "now"
        ? expect(api.POST("/api/standings/{standing}", path))
        : expect(api.DELETE("/api/standings/{standing}", path));
    },
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
}
