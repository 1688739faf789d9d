import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useDraggable } from "@dnd-kit/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Content, type Taken } from "../../base/api/client";
import { stepsOf } from "../../parts/capture/placing";
import type { Item } from "../../parts/shots/shots";
import { Length } from "../../parts/shots/Length";
import { altOf, captionOf, lengthOn } from "../../parts/shots/use";
import { useNotice } from "../../base/ui/notices";
import { rem } from "../../base/ui/rem";
import { Failed } from "../../base/ui/states";
import type { Dragged } from "./Dragging";
import type { Row } from "../../parts/document/model";
import { sure } from "../../base/typed";
import { byPointer } from "../../base/ui/byPointer";

export type Unplaced = {
  items: Taken[];
  error: Error | null;
  again: () => void;
  /**
   * Places a shot before the block at a position; after the step that is written, or at the end, where none is given.
   */
  place: (shot: string, at?: number) => Promise<void>;
};

/** The shots of sessions that no document uses yet, in the order taken. */
export function useUnplaced(rows: Row[], onPlace: (steps: Content[], items: Item[], at?: number) => void): Unplaced {
  const notice = useNotice();
  const list = useQuery({ ...ask("/api/shots", { query: { placed: false } }), placeholderData: keepPreviousData });
  const items = useMemo(() => {
    const used = new Set(rows.flatMap((r) => r.content.figures.map((f) => f.shot)));
    return (list.data ?? []).filter((t) => t.capture && !used.has(t.id)).reverse();
  }, [list.data, rows]);
  const latest = useRef({ items, onPlace });
  useEffect(() => {
    latest.current = { items, onPlace };
  });
  const place = useCallback(
    async (shot: string, at?: number) => {
      const taken = latest.current.items.find((i) => i.id === shot);
      if (!taken) return;
      const item: Item = { ...taken, taken };
      try {
        latest.current.onPlace(await stepsOf([item]), [item], at);
      } catch (e) {
        notice({ text: `The shot was not placed: ${reasonOf(e)}` });
      }
    },
    [notice],
  );
  return { items, error: list.error, again: () => void list.refetch(), place };
}

const height = rem(4); // of a row

/** The list of shots to place: dragged onto the page, or placed by a click, a tap, Space or Enter. */
export function ToPlace({ unplaced }: { unplaced: Unplaced }) {
  const [all, setAll] = useState(false);
  const last = unplaced.items[unplaced.items.length - 1]?.capture;
  // What was taken last is what a writer most likely wants now; what older sessions have is put away until it is asked
  // for.
  const now = unplaced.items.filter((t) => t.capture === last);
  const older = unplaced.items.length - now.length;
  const items = all ? [...now, ...unplaced.items.filter((t) => t.capture !== last).reverse()] : now;
  const room = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => room.current,
    estimateSize: () => height,
    overscan: 4,
  });
  if (unplaced.error && items.length === 0) {
    return (
      <section aria-label="To place" className="border-t border-line px-3">
        <Failed error={unplaced.error} again={unplaced.again} />
      </section>
    );
  }
  if (items.length === 0) return null;
  const onPlaced = (row: HTMLElement, shot: string) => {
    const next = row.nextElementSibling?.querySelector("button") ?? row.previousElementSibling?.querySelector("button");
    void unplaced.place(shot).then(() => next?.focus({ preventScroll: true }));
  };
  return (
    <section aria-label="To place" className="flex min-h-44 flex-1 flex-col border-t border-line">
      <h2 className="px-5 pt-2.5 font-bold">
        To place{" "}
        <span className="text-sm font-normal text-soft">{items.length === 1 ? "1 shot" : `${items.length} shots`}</span>
      </h2>
      <p className="px-5 pb-1 text-sm text-soft">Click to place one, or drag it onto the page.</p>
      <div ref={room} className="min-h-0 flex-1 overflow-y-auto px-3 pb-2">
        <ul className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map((v) => {
            const shot = items[v.index];
            return (
              shot && (
                <li
                  key={shot.id}
                  className="absolute inset-x-0"
                  style={{ height, transform: `translateY(${v.start}px)` }}
                >
                  <Shot shot={shot} onPlace={onPlaced} />
                </li>
              )
            );
          })}
        </ul>
      </div>
      {older > 0 && (
        <button
          type="button"
          aria-expanded={all}
          onClick={() => setAll(!all)}
          className="mx-3 mb-2 rounded px-2 py-1 text-left text-sm text-action hover:bg-paper"
        >
          {all
            ? "Put older sessions away"
            : older === 1
              ? "1 shot of older sessions"
              : `${older} shots of older sessions`}
        </button>
      )}
    </section>
  );
}

function Shot({ shot, onPlace }: { shot: Taken; onPlace: (row: HTMLElement, shot: string) => void }) {
  const data: Dragged = { shot: shot.id };
  const drag = useDraggable({ id: `shot ${shot.id}`, data });
  const caption = captionOf(shot);
  const length = lengthOn({ taken: shot });
  return (
    <button
      ref={drag.setNodeRef}
      type="button"
      aria-label={length ? undefined : `Place the shot “${caption}”`}
      title={caption}
      {...byPointer(drag.listeners)}
      onClick={(e) => onPlace(sure(e.currentTarget.closest("li")), shot.id)}
      className={`flex h-14 w-full cursor-grab items-start gap-2.5 rounded px-2 py-1 text-left hover:bg-paper ${drag.isDragging ? "opacity-40" : ""}`}
    >
      <span className="relative shrink-0">
        <img
          src={`/api/shots/${shot.id}/preview`}
          alt={altOf(shot)}
          draggable={false}
          className="h-11 w-[4.6rem] shrink-0 border border-line bg-desk object-cover object-top"
        />
        <Length of={{ taken: shot }} />
      </span>
      <span className="line-clamp-2 text-sm leading-[1.35]">
        {length && <span className="sr-only">: place the shot </span>}
        {caption}
      </span>
    </button>
  );
}
