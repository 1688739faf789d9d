import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { Button } from "../../base/ui/controls";
import type { Item } from "../../parts/shots/shots";
import { altOf } from "../../parts/shots/use";

const beat = 700; // milliseconds: slow enough for everyone's eyes

/** Two shots side by side, or one after the other in one place, where a difference flickers. */
export function Compare({ a, b, onDone }: { a: Item; b: Item; onDone: () => void }) {
  const [flicker, setFlicker] = useState(false);
  const [second, setSecond] = useState(false);
  useEffect(() => {
    if (!flicker) return;
    const timer = setInterval(() => setSecond((s) => !s), beat);
    return () => clearInterval(timer);
  }, [flicker]);
  const whole = (i: Item) => `/api/shots/${encodeURIComponent(i.id)}`;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-6 z-50 flex flex-col rounded-md border border-soft bg-paper p-4"
        >
          <div className="mb-3 flex items-center gap-3">
            <Dialog.Title className="flex-1 text-lg font-bold">Two shots</Dialog.Title>
            <Button aria-pressed={!flicker} onClick={() => setFlicker(false)}>
              Side by side
            </Button>
            <Button aria-pressed={flicker} onClick={() => setFlicker(true)}>
              One after the other
            </Button>
            <Dialog.Close asChild>
              <Button look="main">Close</Button>
            </Dialog.Close>
          </div>
          <div className={`grid min-h-0 flex-1 gap-3 ${flicker ? "" : "grid-cols-2"}`}>
            {(flicker ? [second ? b : a] : [a, b]).map((i, n) => (
              <figure key={n} className="flex min-h-0 flex-col">
                <div className="flex min-h-0 flex-1 items-start justify-center bg-desk">
                  <img src={whole(i)} alt={altOf(i)} className="max-h-full max-w-full object-contain" />
                </div>
                <figcaption className="truncate pt-1 text-sm">{i.name}</figcaption>
              </figure>
            ))}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
