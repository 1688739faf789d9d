import { useEffect, useRef, useState } from "react";
import { recorder } from "../../parts/capture/recorder";
import type { Rect } from "../../base/api/client";
import type { Point } from "../../base/core/core";
import { sure } from "../../base/typed";

/** An outline is drawn freehand; what lies outside it will be transparent. */
export function OutlinePicker({ k, view }: { k: number; view: Rect }) {
  const [points, setPoints] = useState<Point[]>([]);
  const drawing = useRef(false);
  const layer = useRef<HTMLDivElement>(null);
  useEffect(() => layer.current?.focus(), []);
  const pointOf = (e: React.PointerEvent): Point => {
    const box = sure(layer.current).getBoundingClientRect();
    return { x: Math.round((e.clientX - box.left) / k + view.x), y: Math.round((e.clientY - box.top) / k + view.y) };
  };
  const d = points.map((p, i) => `${i === 0 ? "M" : "L"}${(p.x - view.x) * k} ${(p.y - view.y) * k}`).join("");
  return (
    <div
      ref={layer}
      tabIndex={0}
      role="group"
      aria-label="Draw around what to take. Escape takes nothing; a region can be drawn with keys."
      className="absolute inset-0 cursor-crosshair touch-none outline-none"
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        recorder.cancel();
      }}
      onPointerDown={(e) => {
        layer.current?.setPointerCapture(e.pointerId);
        drawing.current = true;
        setPoints([pointOf(e)]);
      }}
      onPointerMove={(e) => drawing.current && setPoints((all) => [...all, pointOf(e)])}
      onPointerUp={() => {
        drawing.current = false;
        if (points.length > 2) void recorder.picked({ outline: points });
        else setPoints([]);
      }}
    >
      <svg aria-hidden className="absolute inset-0 h-full w-full">
        {points.length > 0 && (
          <>
            <path d={`${d}Z`} fill="#f2b23e" fillOpacity={0.25} stroke="#16272d" strokeWidth={4} />
            <path d={`${d}Z`} fill="none" stroke="#f2b23e" strokeWidth={2} />
          </>
        )}
      </svg>
      {points.length === 0 && (
        <p className="absolute bottom-3 left-1/2 -translate-x-1/2 rounded bg-ink px-3 py-1.5 text-paper">
          Draw around what to take. Escape takes nothing.
        </p>
      )}
    </div>
  );
}
