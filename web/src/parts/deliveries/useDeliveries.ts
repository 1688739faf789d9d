import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Delivery, expect, type Order } from "../../base/api/client";
import { useEvents } from "../../base/api/events";

const key = ["deliveries"];

/** The deliveries of a document, or one's own of all documents, as they are made. */
export function useDeliveries(document?: string) {
  const client = useQueryClient();
  const list = useQuery({
    queryKey: [...key, document ?? "mine"],
    queryFn: () =>
      document === undefined
        ? expect(api.GET("/api/deliveries"))
        : expect(api.GET("/api/documents/{document}/deliveries", { params: { path: { document } } })),
  });
  useEvents({
    // What is told of one delivery stands in for asking for all of them; an answer that is on its way is older.
    delivery: (d) => {
      for (const [list, known] of client.getQueriesData<Delivery[]>({ queryKey: key })) {
        if (!known) continue;
        const belongs = list[1] === d.document || (list[1] === "mine" && d.mine);
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
    opened: () => void client.invalidateQueries({ queryKey: key }),
  });
  return list;
}

/** The forms that the signed-in account can have. */
export const useFormats = () =>
  useQuery({ queryKey: ["formats"], queryFn: () => expect(api.GET("/api/formats")), staleTime: Infinity });

type Ordered = { document: string } & Order;

/** Orders a file; it is made in the background. */
export function useOrder() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ document, ...body }: Ordered) =>
      expect(
        api.POST("/api/documents/{document}/deliveries", {
          params: { path: { document } },
          body,
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
}

/** Cancels a delivery, tries one again, or makes another like it from the document as it is now. */
export function useDeliveryAct(act: "cancel" | "retry" | "again") {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (id: string) => {
      const path = { params: { path: { delivery: id } } };
      if (act === "cancel") await expect(api.DELETE("/api/deliveries/{delivery}", path));
      else if (act === "retry") await expect(api.POST("/api/deliveries/{delivery}", path));
      else await expect(api.POST("/api/deliveries/{delivery}/again", path));
    },
    onSettled: () => client.invalidateQueries({ queryKey: key }),
  });
}
