import { useEffect, useState } from "react";
import type { Delivery } from "../../base/api/client";

const soonest = 4000; // milliseconds of work before anything is said of how long it will take

/**
 * About how many seconds a delivery still takes, by how fast it has gone since it was first seen; nothing while that
 * says little.
 */
export function useLeft({ state, done, all }: Pick<Delivery, "state" | "done" | "all">): number | undefined {
  const [first, setFirst] = useState<{ at: number; done: number }>();
  const [left, setLeft] = useState<number>();
  useEffect(() => {
    if (state !== "working") {
      setFirst(undefined);
      setLeft(undefined);
    } else if (!first) setFirst({ at: Date.now(), done });
    else {
      const [took, made] = [Date.now() - first.at, done - first.done];
      if (took > soonest && made > 0) setLeft(Math.ceil(((all - done) * took) / made / 1000));
    }
  }, [state, done, all, first]);
  return left;
}

export const sayLeft = (seconds: number) =>
  seconds < 90
    ? `about ${Math.max(1, Math.round(seconds / 5) * 5)} s left`
    : `about ${Math.round(seconds / 60)} min left`;
