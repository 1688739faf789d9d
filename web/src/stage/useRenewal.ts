import { useMemo, useState } from "react";
import type { Figure, Taken } from "../api/client";

/** How a figure was whose shot was replaced. */
export type Renewed = { before: Figure };

/** The renewal of a document's pictures after the program was updated. It lasts while the document is open. */
export type Renewal = {
  /** Whether the person goes through all pictures, one after the other. */
  walking: boolean;
  walk: (on: boolean) => void;
  /** What became of a figure; undefined where its shot is the one it had, as after an undo. */
  of: (figure: Figure) => Renewed | undefined;
  set: (figure: string, renewed: Renewed) => void;
  /** The new shot that was used last; the one after it in its session is offered next. */
  last: Taken | undefined;
  use: (shot: Taken) => void;
};

export function useRenewal(): Renewal {
  const [walking, walk] = useState(false);
  const [all, setAll] = useState<ReadonlyMap<string, Renewed>>(new Map());
  const [last, use] = useState<Taken>();
  return useMemo(
    () => ({
      walking,
      walk,
      of: (figure) => {
        const renewed = all.get(figure.id);
        return renewed && renewed.before.shot !== figure.shot ? renewed : undefined;
      },
      set: (figure, renewed) => setAll((was) => new Map(was).set(figure, renewed)),
      last,
      use,
    }),
    [walking, all, last],
  );
}
