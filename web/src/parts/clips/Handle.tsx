import { sayMs } from "../../base/format";
import { type KeyboardEvent, type PointerEvent, useState } from "react";

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
  // The time of the beginning stands before it and that of the end behind it, where there is room.
  const outside = props.label === "Beginning" ? shown > 0.08 * ms : shown > 0.92 * ms;
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
      className="absolute top-0 -ml-3 h-7 w-6 cursor-ew-resize rounded"
      style={{ left: `${(100 * shown) / ms}%` }}
    >
      <span aria-hidden className="absolute top-0 left-1/2 h-3.5 w-1 -translate-x-1/2 bg-action" />
      <span
        aria-hidden
        className={`absolute top-2.5 font-mono text-xs whitespace-nowrap text-action ${outside ? "right-1/2 pr-1" : "left-1/2 pl-1"}`}
      >
        {sayMs(shown, true)}
      </span>
    </span>
  );
}
