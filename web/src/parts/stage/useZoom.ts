import { useCallback, useState } from "react";
import type { Rect } from "../../base/api/client";
import type { Point } from "../../base/core/core";

/** What part of a picture is seen, and the ways to see another. */
export type Zoom = {
  part: Rect;
  k: number; // how many times larger than fitted
  hand: boolean; // the next drag moves the picture
  by: (factor: number, at?: Point) => void;
  pan: (dx: number, dy: number) => void;
  fit: () => void;
  to: (k: number) => void;
  setHand: (hand: boolean) => void;
};

const most = 16;

/** Zooming into a frame; k 1 shows all of it. */
export function useZoom(frame: Rect): Zoom {
  const [state, setState] = useState({ k: 1, x: 0.5, y: 0.5 }); // the middle, in shares of the frame
  const [hand, setHand] = useState(false);
  const kept = (k: number, x: number, y: number) => {
    const half = 0.5 / k;
    const in01 = (v: number) => Math.max(half, Math.min(1 - half, v));
    return { k, x: in01(x), y: in01(y) };
  };
  const by = useCallback(
    (factor: number, at?: Point) =>
      setState((s) => {
        const k = Math.max(1, Math.min(most, s.k * factor));
        if (!at) return kept(k, s.x, s.y);
        // The place under the pointer stays where it is.
        const px = (at.x - frame.x) / frame.w;
        const py = (at.y - frame.y) / frame.h;
        return kept(k, px + ((s.x - px) * s.k) / k, py + ((s.y - py) * s.k) / k);
      }),
    [frame.x, frame.y, frame.w, frame.h],
  );
  const pan = useCallback(
    (dx: number, dy: number) => setState((s) => kept(s.k, s.x + dx / frame.w, s.y + dy / frame.h)),
    [frame.w, frame.h],
  );
  const fit = useCallback(() => setState({ k: 1, x: 0.5, y: 0.5 }), []);
  const to = useCallback((k: number) => setState((s) => kept(Math.max(1, Math.min(most, k)), s.x, s.y)), []);
  const w = frame.w / state.k;
  const h = frame.h / state.k;
  const part = { x: frame.x + state.x * frame.w - w / 2, y: frame.y + state.y * frame.h - h / 2, w, h };
  return { part, k: state.k, hand, by, pan, fit, to, setHand };
}
