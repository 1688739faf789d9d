import { useKeys } from "../../base/keys/useKeys";
import { type ReactNode, useRef, useState } from "react";
import type { Figure, Thread } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { around } from "../../base/typed";

/** The open suggestions of other looks of a picture. */
export const looksOf = (threads: Thread[], figure: string) =>
  threads.filter((t) => t.place.figure === figure && t.suggestion?.figure && !t.suggestion.outcome);

/**
 * A picture, and beside it the other looks that are suggested for it. Which is seen is switched by a press, or by Ctrl,
 * Alt and O: at the step or the comment that has the keyboard, or at all where none has.
 */
export function Redrawn(props: {
  figure: Figure;
  threads: Thread[];
  draw: (figure: Figure) => ReactNode;
  children: ReactNode;
}) {
  const { figure, threads, draw, children } = props;
  const looks = looksOf(threads, figure.id);
  const [seen, setSeen] = useState("");
  const ref = useRef<HTMLDivElement>(null);
  const order = ["", ...looks.map((t) => t.id)];
  const next = order[(order.indexOf(seen) + 1) % order.length] ?? "";
  useKeys(
    "Comments",
    order.length < 2
      ? []
      : [
          {
            keys: "Ctrl+Alt+O",
            does: "Switch between a picture and how it is suggested",
            writing: "fields",
            run: (e) => {
              const at = around(e, "[data-block], [data-thread]");
              const mine = !at || at.contains(ref.current) || order.includes(at.getAttribute("data-thread") ?? "-");
              e.preventDefault();
              if (mine) setSeen(next);
              return false; // others may be meant, too
            },
          },
        ],
  );
  const look = looks.find((t) => t.id === seen);
  if (looks.length === 0) return children;
  return (
    <div ref={ref}>
      {look?.suggestion?.figure ? draw(look.suggestion.figure) : children}
      <div
        role="group"
        aria-label="Which picture is shown"
        className="mt-1 flex flex-wrap items-center gap-1 text-sm print:hidden"
      >
        {order.map((id) => {
          const by = looks.find((t) => t.id === id)?.comments[0]?.by;
          return (
            <button
              key={id}
              type="button"
              aria-pressed={(look?.id ?? "") === id}
              aria-keyshortcuts="Control+Alt+O"
              title="Ctrl+Alt+O switches"
              onClick={() => setSeen(id)}
              className="rounded border border-line bg-paper px-2 py-0.5 aria-pressed:border-action aria-pressed:bg-action aria-pressed:text-paper"
            >
              {by ? `As ${shown(by)} suggests` : "As it is"}
            </button>
          );
        })}
      </div>
    </div>
  );
}
