import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  DragOverlay,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type Active,
} from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { type ReactNode, useMemo, useState } from "react";
import type { Row } from "../../parts/document/model";

/** What is dragged: a block of the page, or a shot that is to be placed on it. */
export type Dragged = { shot?: string };

/** Which shot is dragged; undefined while a step is. */
export const draggedShot = (active: Active | null | undefined) => (active?.data.current as Dragged | undefined)?.shot;

// The same objects every time: each row that can be dragged is drawn anew when they are others.
const mouse = { activationConstraint: { distance: 5 } };
const finger = { activationConstraint: { delay: 250, tolerance: 8 } };
const keys = { coordinateGetter: sortableKeyboardCoordinates };

/** Steps are moved and shots placed by dragging: with the mouse, with a finger that rests first, or with keys. */
export function Dragging(props: {
  rows: Row[];
  onMove: (block: string, to: number) => void;
  /** A shot is dropped before the block that is now at a position. */
  onPlace: (shot: string, at: number) => void;
  children: ReactNode;
}) {
  const { rows } = props;
  // The same list as long as the order is the same: every row is drawn anew when it changes.
  const order = rows.map((r) => r.id).join(" ");
  const items = useMemo(() => order.split(" "), [order]);
  const [shot, setShot] = useState<string>();
  const sensors = useSensors(
    useSensor(MouseSensor, mouse),
    useSensor(TouchSensor, finger),
    useSensor(KeyboardSensor, keys),
  );
  const end = ({ active, over }: DragEndEvent) => {
    setShot(undefined);
    const to = rows.findIndex((r) => r.id === over?.id);
    const placed = draggedShot(active);
    if (placed === undefined) {
      if (to >= 0) props.onMove(String(active.id), to);
      return;
    }
    // Before the block whose middle lies below what is dropped; with none on the page, as the first.
    const middle = (active.rect.current.translated?.top ?? 0) + (active.rect.current.translated?.height ?? 0) / 2;
    const left = active.rect.current.translated?.left ?? 0;
    if (left < (document.querySelector("main")?.getBoundingClientRect().left ?? 0) - 40) return; // not on the page
    if (!over) props.onPlace(placed, rows.length);
    else props.onPlace(placed, middle > over.rect.top + over.rect.height / 2 ? to + 1 : to);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => setShot(draggedShot(active))}
      onDragCancel={() => setShot(undefined)}
      onDragEnd={end}
    >
      <SortableContext items={items} strategy={verticalListSortingStrategy}>
        {props.children}
      </SortableContext>
      <DragOverlay dropAnimation={null}>
        {shot && <img src={`/api/shots/${shot}/preview`} alt="" className="w-40 border border-action opacity-90" />}
      </DragOverlay>
    </DndContext>
  );
}
