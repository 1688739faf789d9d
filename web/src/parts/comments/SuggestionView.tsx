import { Reworded } from "../differences/Reworded";
import type { Thread } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { useSay } from "./useComments";

/**
 * What is suggested: other words, beside those that stand there, or another picture, which is seen at its step. Whoever
 * writes takes it or not.
 */
export function SuggestionView(props: {
  document: string;
  thread: Thread;
  /** Writes it; nothing where the reader of this changes nothing. */
  onTake?: (thread: Thread) => void;
}) {
  const { thread: t, onTake } = props;
  const { change } = useSay(props.document);
  const s = t.suggestion;
  if (!s) return null;
  const decide = (outcome: "taken" | "refused") => {
    if (outcome === "taken") onTake?.(t); // the words come first: they are kept here even if what follows fails
    change.mutate({ comment: t.id, outcome });
  };
  return (
    <div className="my-1 rounded border border-line bg-paper p-2 text-sm">
      {t.place.figure ? (
        <p>{s.figure ? "Another look of the picture. " : "A look of a shot that the picture has no more."}</p>
      ) : (
        <Reworded words={s.pieces} />
      )}
      {s.outcome ? (
        <p className="mt-1 text-soft">{s.outcome === "taken" ? "Taken." : "Not taken."}</p>
      ) : (
        <>
          {s.figure && <p className="text-soft">Ctrl+Alt+O switches between both.</p>}
          {s.changed && (s.words ?? s.figure) && (
            <p className="mt-1 text-soft">
              {s.figure ? "The picture looks otherwise by now" : "The step has other words by now"}; taking this
              replaces
              {s.figure ? " that." : " them."}
            </p>
          )}
          {onTake && (
            <div className="mt-1 flex gap-2">
              {(s.words ?? s.figure) && (
                <Button small look="main" disabled={change.isPending} onClick={() => decide("taken")}>
                  Take it
                </Button>
              )}
              <Button small disabled={change.isPending} onClick={() => decide("refused")}>
                Leave it
              </Button>
            </div>
          )}
          {change.error && (
            <p role="alert" className="text-mustfix">
              {change.error.message}
            </p>
          )}
        </>
      )}
    </div>
  );
}
