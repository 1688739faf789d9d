import { useCallback, useEffect, useState } from "react";
import { local } from "../account/storage";
import { api, type Delivery, type Layout } from "../api/client";
import { useEvents } from "../api/events";

/** Making a PDF: begun here, worked on by the server, found again after a reload. */
export function useDelivery(document: string) {
  const key = `raconte delivery ${document}`;
  const [delivery, setDelivery] = useState<Delivery>();
  const [problem, setProblem] = useState("");

  const ask = useCallback(
    async (id: string) => {
      const { data, response } = await api.GET("/api/deliveries/{delivery}", { params: { path: { delivery: id } } });
      if (data) setDelivery(data);
      else if (response.status === 404) local.remove(key);
    },
    [key],
  );
  useEffect(() => {
    const id = local.get(key);
    if (id) void ask(id).catch(() => undefined);
  }, [key, ask]);
  const id = delivery?.id;
  useEvents({
    delivery: (d) => d.id === id && setDelivery(d),
    opened: () => void (id && ask(id).catch(() => undefined)),
  });

  const begin = async (layout: Layout) => {
    setProblem("");
    try {
      const { data, error } = await api.POST("/api/documents/{document}/deliveries", {
        params: { path: { document } },
        body: { layout },
      });
      if (!data) {
        setProblem((error as { message?: string } | undefined)?.message ?? "The PDF could not be begun. Try again.");
        return;
      }
      local.set(key, data.id);
      setDelivery(data);
      void ask(data.id).catch(() => undefined); // it may have ended before this page listened for it
    } catch {
      setProblem("Raconte can’t be reached. Try again.");
    }
  };
  const forget = () => {
    local.remove(key);
    setDelivery(undefined);
  };
  const cancel = async () => {
    if (id) await api.DELETE("/api/deliveries/{delivery}", { params: { path: { delivery: id } } });
    forget();
  };
  return { delivery, problem, begin, cancel, forget };
}
