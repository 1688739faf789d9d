import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Figure } from "../../base/api/client";
import { core, type Drawing, fetchFaces, type Size } from "../../base/core/core";
import { paint, type Pixels } from "./paint";

/** How a figure is drawn by the core, once it is wanted: what it shows, and its drawing. */
export function useDrawn(figure: Figure, size: Size | undefined, first: number, wanted = true) {
  const [faces, setFaces] = useState(0);
  const drawing = useMemo<Drawing | undefined>(
    () => (size && wanted ? core.figure({ figure, shot: size, first }) : undefined),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- faces: drawn again when a script's letters have arrived
    [figure, size?.w, size?.h, first, wanted, faces],
  );
  const words = figure.marks.map((m) => m.text ?? "").join("");
  useEffect(() => {
    if (words) void fetchFaces(words).then((got) => got && setFaces((n) => n + 1));
  }, [words]);
  return { drawing, frame: drawing?.frame ?? (size ? { x: 0, y: 0, ...size } : { x: 0, y: 0, w: 16, h: 9 }) };
}

/** A figure's drawing; how large it is, its place says. */
export function Drawn({ drawing, pixels }: { drawing: Drawing; pixels: Pixels }) {
  const layer = useRef<SVGGElement>(null);
  useLayoutEffect(() => {
    if (layer.current)
      paint(
        layer.current,
        drawing.shapes.flatMap((s) => s.items),
        pixels,
      );
  }, [drawing, pixels]);
  const { x, y, w, h } = drawing.frame;
  return (
    <svg viewBox={`${x} ${y} ${w} ${h}`} className="isolate block h-full w-full" aria-hidden>
      <g ref={layer} />
    </svg>
  );
}

/** The pixels of one picture for every shot that is asked for. */
export function usePixels(href: string, size: Size | undefined): Pixels {
  return useCallback(() => ({ href, ...(size && { size }) }), [href, size]);
}
