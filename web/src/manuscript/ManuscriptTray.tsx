import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef } from "react";
import { api, expect, type Content } from "../api/client";
import { useEvents } from "../api/events";
import { stepsOf } from "../capture/placing";
import type { Item } from "../shots/shots";
import { altOf, captionOf } from "../shots/use";
import type { Row } from "./model";

const cell = 132;

/**
 * The shots that no document uses yet, in the order taken, along the foot of the page. They are dragged onto it;
 * Enter places one after the step that is being written, or at the end.
 */
export function ManuscriptTray(props: {
  slim: boolean;
  used: Row[];
  onPlace: (steps: Content[], items: Item[], at?: number) => void;
}) {
  const client = useQueryClient();
  const strip = useRef<HTMLDivElement>(null);
  const list = useQuery({
    queryKey: ["unplaced"],
    queryFn: () => expect(api.GET("/api/shots", { params: { query: { placed: false } } })),
  });
  const refresh = () => void client.invalidateQueries({ queryKey: ["unplaced"] });
  useEvents({ shot: refresh, opened: refresh });
  const items = useMemo(() => {
    const used = new Set(props.used.flatMap((r) => r.content.figures.map((f) => f.shot)));
    return (list.data ?? []).filter((t) => t.capture && !used.has(t.id)).reverse();
  }, [list.data, props.used]);

  const cells = useVirtualizer({
    count: items.length,
    horizontal: true,
    getScrollElement: () => strip.current,
    estimateSize: () => cell,
    overscan: 4,
  });

  // What was taken last is what a writer most likely wants now: its first shot is in view.
  const last = items[items.length - 1]?.capture;
  const newest = items.findIndex((t) => t.capture === last);
  useEffect(() => {
    if (newest >= 0) cells.scrollToIndex(newest, { align: "start" });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another session is the last
  }, [last]);

  const latest = useRef({ items, onPlace: props.onPlace });
  useEffect(() => {
    latest.current = { items, onPlace: props.onPlace };
  });
  const place = async (id: string, at?: number) => {
    const t = latest.current.items.find((i) => i.id === id);
    if (!t) return;
    const item: Item = { ...t, taken: t };
    latest.current.onPlace(await stepsOf([item]), [item], at);
  };
  const placing = useRef(place);
  useEffect(() => {
    placing.current = place;
  });
  // A drop goes before the step whose middle is below it.
  useEffect(() => {
    const over = (e: DragEvent) => {
      if (e.dataTransfer?.types.includes(shotType)) e.preventDefault();
    };
    const drop = (e: DragEvent) => {
      const id = e.dataTransfer?.getData(shotType);
      if (!id) return;
      e.preventDefault();
      const steps = [...document.querySelectorAll<HTMLElement>("[data-step]")];
      const at = steps.findIndex((s) => {
        const box = s.getBoundingClientRect();
        return e.clientY < box.top + box.height / 2;
      });
      void placing.current(id, at < 0 ? undefined : at);
    };
    addEventListener("dragover", over);
    addEventListener("drop", drop);
    return () => {
      removeEventListener("dragover", over);
      removeEventListener("drop", drop);
    };
  }, []);

  if (items.length === 0) return null;
  const count = items.length === 1 ? "1 shot is not placed" : `${items.length} shots are not placed`;
  return (
    <section
      aria-label="Tray"
      className={`sticky bottom-0 z-10 border-t border-line bg-paper ${props.slim ? "h-2 overflow-hidden" : ""}`}
    >
      {!props.slim && (
        <div className="flex items-center gap-4 px-4 py-2">
          <p className="w-32 shrink-0 text-sm">
            <strong>Tray</strong>
            <br />
            {count} yet. Drag one onto the page, or press Enter on it.
          </p>
          <div ref={strip} className="h-[5.4rem] min-w-0 flex-1 overflow-x-auto overflow-y-hidden">
            <ul className="relative h-full" style={{ width: cells.getTotalSize() }}>
              {cells.getVirtualItems().map((v) => {
                const t = items[v.index];
                if (!t) return null;
                return (
                  <li
                    key={t.id}
                    className="absolute top-0"
                    style={{ width: cell - 8, transform: `translateX(${v.start}px)` }}
                  >
                    <button
                      type="button"
                      draggable
                      title={captionOf(t)}
                      aria-label={`Place the shot “${captionOf(t)}”`}
                      onDragStart={(e) => e.dataTransfer.setData(shotType, t.id)}
                      onKeyDown={(e) => {
                        if (e.key !== "Enter") return;
                        e.preventDefault();
                        const next = e.currentTarget.closest("li")?.nextElementSibling?.querySelector("button");
                        void place(t.id).then(() => next?.focus());
                      }}
                      onDoubleClick={() => void place(t.id)}
                      className="block h-[4.6rem] w-full overflow-hidden rounded border border-line bg-desk hover:border-soft"
                    >
                      <img
                        src={`/api/shots/${t.id}/preview`}
                        alt={altOf(t)}
                        draggable={false}
                        className="h-full w-full object-cover object-top"
                      />
                    </button>
                  </li>
                );
              })}
            </ul>
          </div>
        </div>
      )}
    </section>
  );
}

const shotType = "application/x.raconte.shot";
