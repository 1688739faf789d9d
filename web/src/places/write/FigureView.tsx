import { sayMs } from "../../base/format";
import { useCallback, useContext, useRef } from "react";
import type { Figure } from "../../base/api/client";
import { Pinned } from "../../parts/comments/commenting";
import { Pins } from "../../parts/comments/Pins";
import { clipLength } from "../../parts/clips/time";
import { core } from "../../base/core/core";
import { Drawn, useDrawn } from "../../parts/stage/Drawn";
import { useColours } from "../../parts/stage/useColours";
import type { Picture } from "../../parts/document/picture";
import { useNear } from "./useNear";

const highest = 420; // pixels of a picture on the page

/** A figure as it lies on the page: picture and marks drawn by the core. */
export function FigureView({
  figure,
  picture,
  first,
  onOpen,
  label,
}: {
  figure: Figure;
  picture: (shot: string) => Picture;
  first: number;
  label: string;
  onOpen: () => void;
}) {
  const { threads, onGo } = useContext(Pinned);
  const ref = useRef<HTMLDivElement>(null);
  const near = useNear(ref, 900);
  const own = picture(figure.shot);
  const size = own.size;
  const { drawing, frame } = useDrawn(figure, size, first, near);
  // A small copy will do, unless a small part of the picture is shown large.
  const bare = useCallback(
    (shot: string) => {
      const p = picture(shot);
      if (shot === figure.shot && figure.clip && p.progress === undefined)
        return { href: `/api/shots/${shot}/clip/frame?at=${core.clipStands(figure.clip)}`, size: p.size };
      const small = shot !== figure.shot || (p.size && frame.w > p.size.w / 2);
      return { href: small ? p.preview : p.whole, size: p.size };
    },
    [picture, figure.shot, figure.clip, frame.w],
  );
  const pixels = useColours(figure, bare);
  return (
    <div ref={ref} className="relative">
      <button
        type="button"
        onClick={onOpen}
        disabled={!size || own.error !== undefined}
        aria-label={label}
        data-figure={figure.id}
        className="block w-full overflow-hidden border border-line bg-desk enabled:hover:border-action"
        style={{ aspectRatio: `${frame.w} / ${frame.h}`, maxHeight: highest }}
      >
        {drawing && <Drawn drawing={drawing} pixels={pixels} />}
        {figure.clip && (
          <span className="absolute right-1 bottom-1 bg-ink px-1 font-mono text-xs text-paper">
            Clip, {sayMs(clipLength(figure.clip))}
          </span>
        )}
        {!size && !own.error && <span className="text-soft">Reading {own.name} …</span>}
      </button>
      {size && near && (
        // As wide as the picture is drawn: it is no higher than its row.
        <div className="pointer-events-none absolute inset-0 flex items-center justify-center">
          <div
            className="pointer-events-auto relative h-0"
            style={{ width: `min(100%, ${(highest * frame.w) / frame.h}px)` }}
          >
            <div
              className="absolute inset-x-0 top-1/2 -translate-y-1/2"
              style={{ aspectRatio: `${frame.w} / ${frame.h}`, pointerEvents: "none" }}
            >
              <div className="pointer-events-none absolute inset-0 [&_button]:pointer-events-auto">
                <Pins figure={figure} size={size} threads={threads} onGo={onGo} />
              </div>
            </div>
          </div>
        </div>
      )}
      {own.progress !== undefined && !own.error && (
        <div
          role="progressbar"
          aria-label={`Bringing in ${own.name}`}
          aria-valuenow={Math.round(own.progress * 100)}
          className="absolute inset-x-0 bottom-0 h-1.5 bg-desk"
        >
          <div className="h-full bg-action" style={{ width: `${Math.max(4, own.progress * 100)}%` }} />
        </div>
      )}
    </div>
  );
}
