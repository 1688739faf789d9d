import { useCallback, useState } from "react";

type Steps<T> = { past: T[]; now: T; future: T[]; at: number; of: string };

const together = 1000; // milliseconds within which changes of one thing are one step

/** A value that is changed in steps, each of which can be undone and done again. */
export function useSteps<T>(first: T) {
  const [steps, setSteps] = useState<Steps<T>>({ past: [], now: first, future: [], at: 0, of: "" });
  /** Changes the value; what names the thing changed, so that typing in it or dragging it is one step. */
  const set = useCallback(
    (now: T, of = "") =>
      setSteps((s) => {
        const at = Date.now();
        const joins = of !== "" && of === s.of && at - s.at < together;
        return { past: joins ? s.past : [...s.past, s.now], now, future: [], at, of };
      }),
    [],
  );
  const undo = useCallback(
    () =>
      setSteps((s) => {
        const now = s.past.at(-1);
        return now === undefined ? s : { past: s.past.slice(0, -1), now, future: [s.now, ...s.future], at: 0, of: "" };
      }),
    [],
  );
  const redo = useCallback(
    () =>
      setSteps((s) => {
        const [now, ...future] = s.future;
        return now === undefined ? s : { past: [...s.past, s.now], now, future, at: 0, of: "" };
      }),
    [],
  );
  return { style: steps.now, set, undo, redo, undoes: steps.past.length > 0, redoes: steps.future.length > 0 };
}
