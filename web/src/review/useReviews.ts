import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, expect } from "../api/client";
import { useEvents } from "../api/events";

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

/** A day in words: 3 December 2026. */
export const sayDay = (day: string) =>
  new Date(`${day.slice(0, 10)}T00:00:00`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
  });

/** A day as it stands against today: in 3 days, today, 2 days late. */
export function until(day: string): { said: string; late: boolean } {
  const today = new Date();
  today.setHours(0, 0, 0, 0);
  const days = Math.round((new Date(`${day.slice(0, 10)}T00:00:00`).getTime() - today.getTime()) / 86_400_000);
  if (days === 0) return { said: "today", late: false };
  if (days < 0) return { said: days === -1 ? "1 day late" : `${-days} days late`, late: true };
  return { said: days === 1 ? "tomorrow" : `in ${days} days`, late: false };
}
