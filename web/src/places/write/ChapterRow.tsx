import { Ellipsis } from "lucide-react";
import { memo } from "react";
import { Link } from "react-router";
import type { Other } from "../../base/api/client";
import { Actions, Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Grip, useSortableRow } from "./Grip";
import type { Row } from "../../parts/document/model";
import { saidOf } from "../../parts/words/useAround";
import { useDesk } from "./desk";

type Props = {
  row: Row;
  index: number;
  seen: number;
  count: number;
  number: string;
  other: Other | undefined;
  measure: (element: HTMLElement | null) => void;
};

/** A chapter of a manual: a procedure, in its valid revision or a fixed one. */
export const ChapterRow = memo(function ChapterRow({ row, index, seen, count, number, other, measure }: Props) {
  const { actions } = useDesk();
  const { sortable, ref, style } = useSortableRow(row.id, measure);
  const { content } = row;
  const fixed = content.revision ?? 0;
  const valid = other?.revision ?? 0;
  const set = (revision: number, label: string) =>
    actions.change(row.id, label, (c) => ({ ...c, revision: revision || undefined }));
  const title = other ? saidOf(other) : "A procedure that is not here";
  return (
    <li
      ref={ref}
      data-block={row.id}
      data-index={seen}
      style={style}
      className={`grid grid-cols-[3.2rem_minmax(0,1fr)_auto] items-center gap-x-3 border-b border-line bg-paper px-4 py-4 ${sortable.isDragging ? "relative z-10 opacity-70" : ""}`}
      onKeyDown={(e) => {
        const to = index + (e.key === "ArrowUp" ? -1 : 1);
        if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown") || to < 0 || to >= count) return;
        e.preventDefault();
        actions.move(row.id, to);
      }}
    >
      <span className="text-2xl font-bold text-action">{number}</span>
      <div className="min-w-0">
        {other && !other.closed ? (
          <Link data-words to={`/d/${other.id}/write`} className="text-xl font-bold text-action hover:underline">
            {shown(title)}
          </Link>
        ) : (
          <span className="text-xl font-bold">{title}</span>
        )}
        <p className="text-soft">
          {other?.retired
            ? "Retired"
            : valid === 0
              ? "Not ready yet: readers get nothing of it"
              : fixed > 0
                ? `Revision ${fixed}, as fixed here`
                : `Always the valid revision, now ${valid}`}
          {other?.seconds ? `, about ${Math.ceil(other.seconds / 60)} min` : ""}
        </p>
        {fixed > 0 && valid > fixed && (
          <p className="mt-1 flex flex-wrap items-center gap-2">
            <span className="text-look">Revision {valid} is newer.</span>
            <a href={`/d/${content.document}`} target="_blank" rel="noreferrer" className="text-action underline">
              Look at it
            </a>
            <Button small onClick={() => set(valid, "Take the newer revision")}>
              Take it
            </Button>
          </p>
        )}
      </div>
      <div className="flex items-center">
        <Grip sortable={sortable} what={`chapter ${number}`} title="Drag to move" hover="hover:bg-desk" />
        <Actions
          label={`Actions for chapter ${number}`}
          className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
          choices={[
            fixed > 0
              ? { label: "Always show the valid revision", run: () => set(0, "Show the valid revision") }
              : { label: `Fix revision ${valid}`, run: () => set(valid, "Fix a revision") },
            "line",
            ...(index > 0 ? [{ label: "Move up", run: () => actions.move(row.id, index - 1) }] : []),
            ...(index < count - 1 ? [{ label: "Move down", run: () => actions.move(row.id, index + 1) }] : []),
            "line",
            { label: "Delete chapter", run: () => actions.remove(row.id), danger: true },
          ]}
        >
          <Ellipsis size={17} aria-hidden />
        </Actions>
      </div>
    </li>
  );
});
