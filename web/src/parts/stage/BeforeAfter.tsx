import { reasonOf } from "../../base/reason";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import type { Figure } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { finish } from "./finished";

/** Two finished pictures, one over the other, with a slider between them. */
export function BeforeAfter(props: { before: Figure; after: Figure; first: number; onDone: () => void }) {
  const { before, after, first } = props;
  const [urls, setURLs] = useState<string[]>();
  const [at, setAt] = useState(50);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let made: string[] = [];
    let gone = false;
    Promise.all([before, after].map((f) => finish(f, first, { type: "png" }))).then(
      (pictures) => {
        if (gone) return;
        made = pictures.map((p) => URL.createObjectURL(p.blob));
        setURLs(made);
      },
      (e: unknown) => setProblem(reasonOf(e)),
    );
    return () => {
      gone = true;
      made.forEach((url) => URL.revokeObjectURL(url));
    };
  }, [before, after, first]);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && props.onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[5vh] left-1/2 z-50 w-[min(68rem,94vw)] -translate-x-1/2 rounded-md border border-soft bg-paper p-4"
        >
          <Dialog.Title className="mb-2 text-lg font-bold">Before and after</Dialog.Title>
          {urls ? (
            <div className="relative">
              <img src={urls[1]} alt="After" className="block max-h-[70vh] w-full object-contain" />
              <img
                src={urls[0]}
                alt="Before"
                className="absolute inset-0 h-full w-full object-contain"
                style={{ clipPath: `inset(0 ${100 - at}% 0 0)` }}
              />
              <span aria-hidden className="absolute inset-y-0 w-0.5 bg-action" style={{ left: `${at}%` }} />
            </div>
          ) : (
            <p>{problem || "One moment …"}</p>
          )}
          <label className="mt-3 flex items-center gap-3">
            Before
            <input
              type="range"
              min={0}
              max={100}
              value={at}
              onChange={(e) => setAt(e.target.valueAsNumber)}
              aria-label="How much of the picture before is shown"
              className="flex-1"
            />
            After
          </label>
          <div className="mt-3 flex justify-end">
            <Button onClick={props.onDone}>Close</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
