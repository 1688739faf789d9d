import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import { useCallback } from "react";

type Sortable = ReturnType<typeof useSortable>;

/** A row of the page that is moved by dragging; measure tells the list how high it is. */
export function useSortableRow(id: string, measure: (element: HTMLElement | null) => void) {
  const sortable = useSortable({ id });
  const { setNodeRef } = sortable;
  const ref = useCallback(
    (element: HTMLElement | null) => {
      setNodeRef(element);
      measure(element);
    },
    [setNodeRef, measure],
  );
  const style = { transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition };
  return { sortable, ref, style };
}

/** By which a row is dragged, with the mouse, a finger or keys. */
export function Grip({
  sortable,
  what,
  title,
  hover,
}: {
  sortable: Sortable;
  what: string;
  title: string;
  hover: string;
}) {
  return (
    <button
      type="button"
      {...sortable.attributes}
      {...sortable.listeners}
      aria-label={`Move ${what}: press Space, then the arrow keys, then Space`}
      title={`${title}. With the keyboard: Alt and an arrow key`}
      className={`cursor-grab touch-none rounded p-1 text-soft hover:text-ink ${hover}`}
    >
      <GripVertical size={17} aria-hidden />
    </button>
  );
}
