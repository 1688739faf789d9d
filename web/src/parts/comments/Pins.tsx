import { MessageSquare } from "lucide-react";
import { useMemo } from "react";
import type { Figure, Rect, Thread } from "../../base/api/client";
import { core } from "../../base/core/core";
import { shown } from "../../base/ui/shown";

type Size = { w: number; h: number };

/** The places in a picture that comments are about, over the picture: a sign at a point, a frame around an area. */
export function Pins(props: { figure: Figure; size: Size; threads: Thread[]; onGo: (thread: Thread) => void }) {
  const { figure, size, threads, onGo } = props;
  const pins = useMemo(
    () =>
      threads.flatMap((thread) => {
        const { pin } = thread.place;
        if (!pin || thread.place.figure !== figure.id || pin.shot !== figure.shot) return [];
        const { at, inside } = core.pinShown(figure, size, pin);
        return inside ? [{ thread, at }] : [];
      }),
    [figure, size, threads],
  );
  return (
    <>
      {pins.map(({ thread, at }) => (
        <Pin key={thread.id} at={at} by={thread.comments[0]?.by ?? ""} onGo={() => onGo(thread)} />
      ))}
    </>
  );
}

const percent = (n: number) => `${n * 100}%`;

function Pin({ at, by, onGo }: { at: Rect; by: string; onGo: () => void }) {
  const area = at.w > 0.005 || at.h > 0.005;
  return (
    <>
      {area && (
        <span
          aria-hidden
          className="pointer-events-none absolute border-2 border-call outline outline-1 outline-ink"
          style={{ left: percent(at.x), top: percent(at.y), width: percent(at.w), height: percent(at.h) }}
        />
      )}
      <button
        type="button"
        aria-label={`Place of the comment by ${by}`}
        title={shown(by)}
        onClick={onGo}
        className="absolute flex size-7 -translate-x-1/2 -translate-y-1/2 items-center justify-center rounded-sm border border-ink bg-call text-ink hover:bg-paper"
        style={{
          left: percent(clamp(at.x + (area ? 0 : at.w / 2))),
          top: percent(clamp(at.y + (area ? 0 : at.h / 2))),
        }}
      >
        <MessageSquare size={14} aria-hidden />
      </button>
    </>
  );
}

const clamp = (n: number) => Math.min(0.98, Math.max(0.02, n));
