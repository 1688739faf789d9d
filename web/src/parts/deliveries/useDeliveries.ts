import { beside } from "../../base/api/beside";
import { ask, documentOf, type Question } from "../../base/api/ask";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Delivery, expect, type Order } from "../../base/api/client";
import { useEvents } from "../../base/api/events";

const lists = ([question]: readonly unknown[]) =>
  question === ("/api/deliveries" satisfies Question) ||
  question === ("/api/documents/{document}/deliveries" satisfies Question);

/** The deliveries of a document, or one's own of all documents, as they are made. */
export function useDeliveries(document?: string) {
  const client = useQueryClient();
  const mine = useQuery({ ...ask("/api/deliveries"), enabled: document === undefined });
  const its = useQuery({
    ...ask("/api/documents/{document}/deliveries", { path: { document: document ?? "" } }),
    enabled: document !== undefined,
  });
  useEvents({
    // What is told of one delivery stands in for asking for all of them; an answer that is on its way is older.
    delivery: (d) => {
      for (const [list, known] of client.getQueriesData<Delivery[]>({ predicate: ({ queryKey }) => lists(queryKey) })) {
        if (!known) continue;
        const of = documentOf(list);
        const belongs = of === undefined ? d.mine : of === d.document;
        const told = (all?: Delivery[]) =>
          all?.some((o) => o.id === d.id)
            ? all.map((o) => (o.id === d.id ? d : o))
            : belongs
              ? [d, ...(all ?? [])]
              : all;
        void client
          .cancelQueries({ queryKey: list, exact: true })
          .then(() => client.setQueryData<Delivery[]>(list, told));
      }
    },
  });
  return document === undefined ? mine : its;
}

/** The forms that the signed-in account can have. */
export const useFormats = () => useQuery({ ...ask("/api/formats"), staleTime: Infinity });

type Ordered = { document: string } & Order;

/** Orders a file; it is made in the background. */
export function useOrder() {
  return useMutation({
    ...beside,
    mutationFn: ({ document, ...body }: Ordered) =>
      expect(
        api.POST("/api/documents/{document}/deliveries", {
          params: { path: { document } },
          body,
        }),
      ),
  });
}

/** Cancels a delivery, tries one again, or makes another like it from the document as it is now. */
export function useDeliveryAct(act: "cancel" | "retry" | "again") {
  return useMutation({
    ...beside,
    mutationFn: async (id: string) => {
      const path = { params: { path: { delivery: id } } };
      if (act === "cancel") await expect(api.DELETE("/api/deliveries/{delivery}", path));
      else if (act === "retry") await expect(api.POST("/api/deliveries/{delivery}", path));
      else await expect(api.POST("/api/deliveries/{delivery}/again", path));
    },
  });
}
