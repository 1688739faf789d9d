import { type PointerEvent, useRef } from "react";
import type { Point } from "../../base/core/core";

/** Two fingers zoom and move the picture; whatever one of them had begun is given up. */
export function useFingers(props: {
  onBegin: () => void;
  onPinch: (factor: number, at: Point, dx: number, dy: number) => void;
}) {
  const down = useRef(new Map<number, Point>());
  const gesture = useRef(false); // until all fingers are up again
  const look = () => {
    const [a, b] = [...down.current.values()];
    return a && b && { at: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, apart: Math.hypot(a.x - b.x, a.y - b.y) };
  };
  return {
    /** Whether the press is one of several fingers. */
    down: (e: PointerEvent): boolean => {
      if (e.pointerType !== "touch") return false;
      down.current.set(e.pointerId, { x: e.clientX, y: e.clientY });
      if (down.current.size === 2) {
        gesture.current = true;
        props.onBegin();
      }
      return gesture.current;
    },
    move: (e: PointerEvent): boolean => {
      if (!down.current.has(e.pointerId)) return false;
      const before = look();
      down.current.set(e.pointerId, { x: e.clientX, y: e.clientY });
      const now = look();
      if (gesture.current && before && now && before.apart > 0)
        props.onPinch(now.apart / before.apart, now.at, now.at.x - before.at.x, now.at.y - before.at.y);
      return gesture.current;
    },
    up: (e: PointerEvent) => {
      down.current.delete(e.pointerId);
      if (down.current.size === 0) gesture.current = false;
    },
  };
}
