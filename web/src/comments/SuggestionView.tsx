import { Reworded } from "../changes/Reworded";
import type { Thread } from "../api/client";
import { Button } from "../ui/controls";
import { useSay } from "./useComments";

/** Other words that are suggested, beside those that stand there; whoever writes takes or refuses them. */
export function SuggestionView(props: {
  document: string;
  thread: Thread;
  /** Writes the words; nothing where the reader of this changes nothing. */
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
      <Reworded words={s.pieces} />
      {s.outcome ? (
        <p className="mt-1 text-soft">{s.outcome === "taken" ? "Taken." : "Not taken."}</p>
      ) : (
        <>
          {s.changed && <p className="mt-1 text-soft">The step has other words by now; taking this replaces them.</p>}
          {onTake && (
            <div className="mt-1 flex gap-2">
              <Button small look="main" disabled={change.isPending} onClick={() => decide("taken")}>
                Take it
              </Button>
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
