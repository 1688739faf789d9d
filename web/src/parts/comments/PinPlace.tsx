import { useEffect, useRef, useState } from "react";
import type { Rect } from "../../base/api/client";
import { Button } from "../../base/ui/controls";

const step = 0.02;

/**
 * Over a picture: a press chooses a point of it, a drag an area; by keyboard the arrows move a point, and Enter chooses
 * it.
 */
export function PinPlace(props: { onPlace: (at: Rect | undefined) => void; onCancel: () => void }) {
  const ref = useRef<HTMLDivElement>(null);
  const from = useRef<{ x: number; y: number }>(undefined);
  const [at, setAt] = useState<Rect>({ x: 0.5, y: 0.5, w: 0, h: 0 });
  useEffect(() => ref.current?.focus(), []);
  const place = (e: React.PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = (n: number, start: number, size: number) => Math.min(1, Math.max(0, (n - start) / size));
    return { x: share(e.clientX, box.left, box.width), y: share(e.clientY, box.top, box.height) };
  };
  const between = (a: { x: number; y: number }, b: { x: number; y: number }): Rect => {
    const w = Math.abs(a.x - b.x);
    const h = Math.abs(a.y - b.y);
    return w < 0.01 && h < 0.01 ? { ...a, w: 0, h: 0 } : { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), w, h };
  };
  const move = (x: number, y: number) =>
    setAt({ x: Math.min(1, Math.max(0, at.x + x)), y: Math.min(1, Math.max(0, at.y + y)), w: 0, h: 0 });
  return (
    <div
      ref={ref}
      tabIndex={0}
      role="application"
      aria-label="Choose a place in the picture: arrows move it, Enter takes it, Escape leaves it"
      className="absolute inset-0 cursor-crosshair touch-none border-2 border-call bg-ink/10"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = place(e);
        setAt({ ...from.current, w: 0, h: 0 });
      }}
      onPointerMove={(e) => from.current && setAt(between(from.current, place(e)))}
      onPointerUp={(e) => {
        if (!from.current) return;
        const chosen = between(from.current, place(e));
        from.current = undefined;
        props.onPlace(chosen);
      }}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        const moves: Record<string, [number, number]> = {
          ArrowLeft: [-step, 0],
          ArrowRight: [step, 0],
          ArrowUp: [0, -step],
          ArrowDown: [0, step],
        };
        const by = moves[e.key];
        if (by) move(...by);
        else if (e.key === "Enter") props.onPlace(at);
        else if (e.key === "Escape") props.onCancel();
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <span
        aria-hidden
        className="pointer-events-none absolute border-2 border-call outline outline-1 outline-ink"
        style={{
          left: `${at.x * 100}%`,
          top: `${at.y * 100}%`,
          width: at.w ? `${at.w * 100}%` : "10px",
          height: at.h ? `${at.h * 100}%` : "10px",
        }}
      />
      <div
        className="absolute top-1 left-1 flex gap-1 rounded bg-paper p-1"
        onPointerDown={(e) => e.stopPropagation()}
        onPointerUp={(e) => e.stopPropagation()}
      >
        <span className="px-1 text-sm">Press or drag on the picture</span>
        <Button small onClick={() => props.onPlace(undefined)}>
          The whole picture
        </Button>
        <Button small onClick={props.onCancel}>
          Cancel
        </Button>
      </div>
    </div>
  );
}
