import { useEffect, useMemo, useRef, useState } from "react";
import type { Figure } from "../api/client";
import { core, type Drawing, fetchFaces, type Shape, type Size } from "../core/core";
import type { Picture } from "./picture";
import { useNear } from "./useNear";

export function Shapes({ shapes }: { shapes: Shape[] }) {
  return shapes.map((s) => (
    <g key={s.mark}>
      {s.paths.map((p, i) => (
        <path key={i} d={p.d} fill={p.fill} />
      ))}
    </g>
  ));
}

/** A figure as it lies on the page: crop and marks drawn by the core. */
export function FigureView({
  figure,
  picture,
  first,
  onOpen,
  label,
}: {
  figure: Figure;
  picture: Picture;
  first: number;
  label: string;
  onOpen: () => void;
}) {
  const ref = useRef<HTMLDivElement>(null);
  const near = useNear(ref, 900);
  const [faces, setFaces] = useState(0);
  const size = picture.size;
  const drawing = useMemo<Drawing | undefined>(
    () => (size && near ? core.figure({ figure, shot: size, first }) : undefined),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- faces: drawn again when a script's letters have arrived
    [figure, size?.w, size?.h, first, near, faces],
  );
  const words = figure.marks.map((m) => m.text ?? "").join("");
  useEffect(() => {
    if (words) void fetchFaces(words).then((got) => got && setFaces((n) => n + 1));
  }, [words]);
  const frame = drawing?.frame ?? (size ? { x: 0, y: 0, ...size } : { x: 0, y: 0, w: 16, h: 9 });
  return (
    <div ref={ref} className="relative">
      <button
        type="button"
        onClick={onOpen}
        disabled={!size || picture.error !== undefined}
        aria-label={label}
        className="block w-full overflow-hidden border border-line bg-desk enabled:hover:border-action"
        style={{ aspectRatio: `${frame.w} / ${frame.h}`, maxHeight: 420 }}
      >
        {near && size && (
          <svg viewBox={`${frame.x} ${frame.y} ${frame.w} ${frame.h}`} className="block h-full w-full" aria-hidden>
            <Shot picture={picture} size={size} small={frame.w > size.w / 2} />
            {drawing && <Shapes shapes={drawing.shapes} />}
          </svg>
        )}
        {!size && !picture.error && <span className="text-soft">Reading {picture.name} …</span>}
      </button>
      {picture.progress !== undefined && !picture.error && (
        <div
          role="progressbar"
          aria-label={`Bringing in ${picture.name}`}
          aria-valuenow={Math.round(picture.progress * 100)}
          className="absolute inset-x-0 bottom-0 h-1.5 bg-desk"
        >
          <div className="h-full bg-action" style={{ width: `${Math.max(4, picture.progress * 100)}%` }} />
        </div>
      )}
    </div>
  );
}

/** The pixels: from memory while they are on their way, else small or whole from the server. */
export function Shot({ picture, size, small }: { picture: Picture; size: Size; small: boolean }) {
  return (
    <image href={small ? picture.preview : picture.whole} width={size.w} height={size.h} preserveAspectRatio="none" />
  );
}
