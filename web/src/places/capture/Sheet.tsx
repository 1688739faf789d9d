import {
  DndContext,
  type DragEndEvent,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useLayoutEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { rem } from "../../base/ui/rem";
import { Length } from "../../parts/shots/Length";
import type { Item } from "../../parts/shots/shots";
import { altOf, captionOf, useThumb } from "../../parts/shots/use";
import { reasons } from "./reasons";
import { byPointer } from "../../base/ui/byPointer";

const least = rem(17.3); // the width of a cell
const height = rem(15.7);

type CellProps = { item: Item; number: number; under: Item[] };

/** Shots beside and below each other, in order: large enough to be told apart. */
export function Sheet(props: {
  cells: CellProps[];
  chosen: ReadonlySet<string>;
  onChoose: (item: Item, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  onMove: (item: Item, to: number) => void;
  onOpen: (item: Item) => void;
}) {
  const { cells } = props;
  const room = useRef<HTMLDivElement>(null);
  const [columns, setColumns] = useState(4);
  useLayoutEffect(() => {
    const box = room.current;
    if (!box) return;
    const measure = () => setColumns(Math.max(1, Math.floor((box.clientWidth - 24) / least)));
    measure();
    const seen = new ResizeObserver(measure);
    seen.observe(box);
    return () => seen.disconnect();
  }, []);

  const rows = useVirtualizer({
    count: Math.ceil(cells.length / columns),
    getScrollElement: () => room.current,
    estimateSize: () => height,
    overscan: 2,
  });
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  );
  // A drop on the right half of a cell goes behind it.
  const end = ({ active, over }: DragEndEvent) => {
    const to = cells.find((c) => c.item.id === over?.id);
    const item = cells.find((c) => c.item.id === active.id)?.item;
    const at = active.rect.current.translated;
    if (!to || !item || !over || !at || over.id === active.id) return;
    const behind = at.left + at.width / 2 > over.rect.left + over.rect.width / 2;
    props.onMove(item, to.number - 1 + (behind ? 1 : 0));
  };
  return (
    <div ref={room} className="min-h-0 flex-1 overflow-y-auto p-3">
      <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={end}>
        <ol aria-label="Shots" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().flatMap((v) =>
            cells.slice(v.index * columns, (v.index + 1) * columns).map((c, i) => (
              <li
                key={c.item.id}
                data-shot={c.item.id}
                className="absolute p-2"
                style={{
                  width: `${100 / columns}%`,
                  height,
                  left: `${(100 / columns) * i}%`,
                  transform: `translateY(${v.start}px)`,
                }}
              >
                <Cell {...c} {...props} />
              </li>
            )),
          )}
        </ol>
      </DndContext>
    </div>
  );
}

function Cell({
  item,
  number,
  under,
  chosen,
  onChoose,
  onMove,
  onOpen,
}: CellProps & Pick<Parameters<typeof Sheet>[0], "chosen" | "onChoose" | "onMove" | "onOpen">) {
  const src = useThumb(item);
  const on = chosen.has(item.id);
  const words = captionOf(item);
  const drag = useDraggable({ id: item.id });
  const drop = useDroppable({ id: item.id });
  const verdict = item.taken?.verdict ?? "";
  return (
    <div
      ref={drop.setNodeRef}
      className={`flex h-full flex-col overflow-hidden rounded border bg-paper ${drop.isOver && !drag.isDragging ? "ring-2 ring-call" : ""} ${drag.isDragging ? "opacity-50" : ""} ${on ? "border-action ring-2 ring-action" : "border-line"}`}
    >
      <button
        type="button"
        aria-pressed={on}
        aria-label={`Shot ${number}, ${words}`}
        ref={drag.setNodeRef}
        {...byPointer(drag.listeners)}
        onClick={(e) => onChoose(item, e)}
        onKeyDown={(e) => {
          const step = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          if (!e.altKey || !step) return;
          e.preventDefault();
          onMove(item, step < 0 ? number - 2 : number + 1);
        }}
        className="relative min-h-0 flex-1 bg-desk"
      >
        <img src={src} alt={altOf(item)} draggable={false} className="h-full w-full object-contain" />
        <Length of={item} />
      </button>
      <div className="flex items-baseline gap-2 px-2 py-1">
        <span className="font-bold">{number}</span>
        <span className="min-w-0 flex-1 truncate" title={item.name}>
          {words}
        </span>
        {item.taken?.placed && <span className="text-sm text-soft">placed</span>}
        <Link to={`/shot/${item.id}`} className="text-sm text-action underline" aria-label={`Open shot ${number}`}>
          Open
        </Link>
      </div>
      {(verdict in reasons || item.taken?.uneven || item.taken?.print || under.length > 0) && (
        <p className="flex items-baseline gap-2 px-2 pb-1 text-sm text-look">
          <span className="truncate">
            {verdict in reasons
              ? reasons[verdict]
              : item.taken?.uneven
                ? `${item.width} × ${item.height}, a little off`
                : item.taken?.print
                  ? `${item.width} × ${item.height}: its text prints at ${item.taken.print.points} points`
                  : ""}
          </span>
          {under.length > 0 && (
            <button type="button" className="text-action underline" onClick={() => onOpen(item)} aria-expanded={false}>
              {under.length === 1 ? "Show 1 repeat" : `Show ${under.length} repeats`}
            </button>
          )}
        </p>
      )}
    </div>
  );
}
