import { useMemo, useState } from "react";
import type { Figure, Taken } from "../../base/api/client";

/** How a figure was whose shot was replaced. */
export type Replaced = { before: Figure };

/** The replacement of a document's pictures after the program was updated. It lasts while the document is open. */
export type Replacement = {
  /** Whether the person goes through all pictures, one after the other. */
  walking: boolean;
  walk: (on: boolean) => void;
  /** What became of a figure; undefined where its shot is the one it had, as after an undo. */
  of: (figure: Figure) => Replaced | undefined;
  set: (figure: string, replaced: Replaced) => void;
  /** The new shot that was used last; the one after it in its session is offered next. */
  last: Taken | undefined;
  use: (shot: Taken) => void;
};

export function useReplacement(): Replacement {
  const [walking, walk] = useState(false);
  const [all, setAll] = useState<ReadonlyMap<string, Replaced>>(new Map());
  const [last, use] = useState<Taken>();
  return useMemo(
    () => ({
      walking,
      walk,
      of: (figure) => {
        const replaced = all.get(figure.id);
        return replaced && replaced.before.shot !== figure.shot ? replaced : undefined;
      },
      set: (figure, replaced) => setAll((was) => new Map(was).set(figure, replaced)),
      last,
      use,
    }),
    [walking, all, last],
  );
}
