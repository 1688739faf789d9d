import { type KeyboardEvent, type PointerEvent, useState } from "react";
import { sayMs } from "./time";

/** A step of the handles, in milliseconds: a picture of a recording. */
export const frame = 67;

/** One end of what is shown: dragged, or moved by arrow keys, a frame or a second at a time. */
export function Handle(props: {
  label: string;
  at: number;
  ms: number;
  onMove: (ms: number) => void;
  place: (e: PointerEvent) => number;
}) {
  const { at, ms, onMove } = props;
  const [held, setHeld] = useState<number>();
  const key = (e: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    onMove(Math.min(ms, Math.max(0, at + by * (e.shiftKey ? 1000 : frame))));
  };
  const shown = held ?? at;
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={props.label}
      aria-valuemin={0}
      aria-valuemax={ms}
      aria-valuenow={shown}
      aria-valuetext={sayMs(shown, true)}
      onKeyDown={key}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(at);
      }}
      onPointerMove={(e) => held !== undefined && setHeld(props.place(e))}
      onPointerUp={() => {
        if (held !== undefined && held !== at) onMove(held);
        setHeld(undefined);
      }}
      className="absolute inset-y-0 -ml-1.5 w-3 cursor-ew-resize rounded-sm border-2 border-ink bg-call"
      style={{ left: `clamp(6px, ${(100 * shown) / ms}%, calc(100% - 6px))` }}
    />
  );
}
