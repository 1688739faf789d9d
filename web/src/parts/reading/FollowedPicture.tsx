import { Dialog } from "radix-ui";
import { type ReactNode, useEffect, useRef, useState } from "react";
import type { Rect } from "../../base/api/client";
import { Button } from "../../base/ui/controls";

type Seen = { w: number; h: number; area?: Rect };

const narrow = "(max-width: 639px)";

/** A picture of a step. On a phone it shows what its marks point at, the whole one tap away; a press opens it large. */
export function FollowedPicture(props: {
  address: string;
  large: string;
  alt: string;
  seen?: Seen;
  eager: boolean;
  over?: ReactNode;
}) {
  const { address, large, alt, seen } = props;
  const [whole, setWhole] = useState(false);
  const [open, setOpen] = useState(false);
  const [phone, setPhone] = useState(() => matchMedia(narrow).matches);
  useEffect(() => {
    const media = matchMedia(narrow);
    const look = () => setPhone(media.matches);
    media.addEventListener("change", look);
    return () => media.removeEventListener("change", look);
  }, []);
  const part = phone && !whole ? near(seen) : undefined;
  return (
    <div className="mb-3">
      <div className={props.over ? "relative w-fit max-w-full" : ""}>
        <button
          type="button"
          onClick={() => setOpen(true)}
          aria-label={`Open the picture large: ${alt}`}
          className="block max-w-full overflow-hidden border border-line hover:border-action"
          style={part && seen && { aspectRatio: `${part.w * seen.w} / ${part.h * seen.h}`, width: "100%" }}
        >
          <img
            src={part ? large : address}
            alt=""
            loading={props.eager ? "eager" : "lazy"}
            {...(seen && { width: seen.w, height: seen.h })}
            className={part ? "block h-auto max-w-none" : "block h-auto max-h-[75dvh] w-auto max-w-full"}
            style={
              part && {
                width: `${100 / part.w}%`,
                transform: `translate(${-part.x * 100}%, ${-part.y * 100}%)`,
              }
            }
          />
        </button>
        {!part && props.over}
      </div>
      {phone && near(seen) && (
        <Button look="quiet" small className="-ml-2 print:hidden" onClick={() => setWhole(!whole)}>
          {whole ? "Show what is marked" : "Show the whole picture"}
        </Button>
      )}
      {open && <Large address={large} alt={alt} area={seen?.area} onDone={() => setOpen(false)} />}
    </div>
  );
}

/** The part to show where there is little room; nothing where that is nearly all. */
function near(seen: Seen | undefined): Rect | undefined {
  const a = seen?.area;
  if (!a) return undefined;
  // At least half as wide and high as the picture, so that readers know where it is.
  const w = Math.max(a.w, 0.5);
  const h = Math.max(a.h, 0.5);
  if (w > 0.85 && h > 0.85) return undefined;
  const place = (at: number, size: number, to: number) => Math.min(1 - to, Math.max(0, at + size / 2 - to / 2));
  return { x: place(a.x, a.w, w), y: place(a.y, a.h, h), w, h };
}

const steps = [1, 1.5, 2, 3, 4];

/** A picture as large as the screen, to be enlarged and moved. */
function Large(props: { address: string; alt: string; area?: Rect; onDone: () => void }) {
  const [scale, setScale] = useState(1);
  const room = useRef<HTMLDivElement>(null);
  const dragged = useRef<{ x: number; y: number }>(undefined);
  const zoom = (by: 1 | -1) =>
    setScale((now) => steps[Math.min(steps.length - 1, Math.max(0, steps.indexOf(now) + by))] ?? 1);
  useEffect(() => {
    const r = room.current;
    if (!r) return;
    // What is marked stays in the middle.
    const { area } = props;
    const at = area ? { x: area.x + area.w / 2, y: area.y + area.h / 2 } : { x: 0.5, y: 0.5 };
    r.scrollTo(at.x * r.scrollWidth - r.clientWidth / 2, at.y * r.scrollHeight - r.clientHeight / 2);
  }, [scale, props]);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && props.onDone()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-0 z-50 flex flex-col bg-desk"
          onKeyDown={(e) => {
            if (e.key === "+" || e.key === "=") zoom(1);
            if (e.key === "-") zoom(-1);
            e.stopPropagation();
          }}
        >
          <div className="flex items-center gap-2 border-b border-line bg-paper px-3 py-2">
            <Dialog.Title className="min-w-0 flex-1 truncate">{props.alt}</Dialog.Title>
            <Button aria-label="Smaller" disabled={scale === steps[0]} onClick={() => zoom(-1)}>
              −
            </Button>
            <span className="w-12 text-center tabular-nums">{scale * 100} %</span>
            <Button aria-label="Larger" disabled={scale === steps.at(-1)} onClick={() => zoom(1)}>
              +
            </Button>
            <Button look="main" onClick={props.onDone}>
              Close
            </Button>
          </div>
          <div
            ref={room}
            tabIndex={0}
            role="group"
            aria-label="The picture: drag it, or use the arrow keys"
            className="min-h-0 flex-1 cursor-grab touch-pan-x touch-pan-y touch-pinch-zoom overflow-auto"
            onDoubleClick={() => setScale(scale > 1 ? 1 : 2)}
            onPointerDown={(e) => {
              if (e.pointerType !== "mouse") return;
              dragged.current = { x: e.clientX, y: e.clientY };
              e.currentTarget.setPointerCapture(e.pointerId);
            }}
            onPointerMove={(e) => {
              const from = dragged.current;
              if (!from) return;
              e.currentTarget.scrollBy(from.x - e.clientX, from.y - e.clientY);
              dragged.current = { x: e.clientX, y: e.clientY };
            }}
            onPointerUp={() => (dragged.current = undefined)}
          >
            <img
              src={props.address}
              alt={props.alt}
              draggable={false}
              className="m-auto block"
              style={
                scale === 1
                  ? { maxWidth: "100%", maxHeight: "100%", height: "100%", objectFit: "contain" }
                  : { width: `${scale * 100}%`, maxWidth: "none" }
              }
            />
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
