import { ChevronDown, ChevronRight, Ellipsis } from "lucide-react";
import { memo } from "react";
import { Actions, type Choice } from "../../base/ui/controls";
import { Grip, useSortableRow } from "./Grip";
import { headingOf, headingText } from "../../parts/document/heading";
import type { Row } from "../../parts/document/model";
import { useDesk } from "./desk";

type Props = {
  row: Row;
  index: number;
  /** Its place among the rows that are seen. */
  seen: number;
  number: string;
  /** How many blocks are hidden under the heading; undefined where it is unfolded. */
  folded: number | undefined;
  onFold: (id: string) => void;
  /** To the words of the block after it, or before. */
  onNext: (id: string, by: 1 | -1) => void;
  measure: (element: HTMLElement | null) => void;
};

/** The heading of a section on the page. */
export const SectionRow = memo(function SectionRow({
  row,
  index,
  seen,
  number,
  folded,
  onFold,
  onNext,
  measure,
}: Props) {
  const { actions, inManual } = useDesk();
  const { sortable, ref, style } = useSortableRow(row.id, measure);
  const { content } = row;
  const deep = content.level === 2;
  const menu: Choice[] = [
    ...(inManual
      ? [{ label: "Add a chapter below", run: () => actions.link({ before: index + 1 }) }]
      : [{ label: "Add a step below", run: () => actions.insert(index + 1) }]),
    { label: "Add a passage below", run: () => actions.passage(index + 1) },
    {
      label: deep ? "Make it a section of its own" : "Make it part of the section above",
      run: () => actions.change(row.id, "Change a section’s level", (c) => ({ ...c, level: deep ? 1 : 2 })),
    },
    "line",
    { label: "Move section up", run: () => actions.moveSection(row.id, -1) },
    { label: "Move section down", run: () => actions.moveSection(row.id, 1) },
    "line",
    { label: "Delete heading", run: () => actions.remove(row.id), danger: true },
  ];
  return (
    <li
      ref={ref}
      data-block={row.id}
      data-index={seen}
      style={style}
      className={`flex items-center gap-3 border-b border-line bg-desk px-5 py-3 ${deep ? "pl-9" : ""} ${sortable.isDragging ? "relative z-10 opacity-70" : ""}`}
      onKeyDown={(e) => {
        if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
        e.preventDefault();
        actions.moveSection(row.id, e.key === "ArrowUp" ? -1 : 1);
      }}
    >
      <button
        type="button"
        aria-expanded={folded === undefined}
        aria-label={`${folded === undefined ? "Hide" : "Show"} what is in section ${number}`}
        title={folded === undefined ? "Hide what is in it" : "Show what is in it"}
        className="rounded p-1 text-soft hover:bg-paper hover:text-ink"
        onClick={() => onFold(row.id)}
      >
        {folded === undefined ? <ChevronDown size={17} aria-hidden /> : <ChevronRight size={17} aria-hidden />}
      </button>
      <span className={`font-bold text-action ${deep ? "text-base" : "text-xl"}`}>{number}</span>
      <input
        aria-label={`Heading of section ${number}`}
        data-words
        maxLength={200}
        value={headingText(content.words)}
        placeholder="What is done in this section"
        className={`min-w-0 flex-1 rounded bg-transparent font-bold ${deep ? "text-base" : "text-xl"}`}
        onChange={(e) =>
          actions.change(row.id, "Write a heading", (c) => ({ ...c, words: headingOf(e.target.value) }), true)
        }
        onKeyDown={(e) => {
          if ((e.ctrlKey || e.metaKey) && (e.key === "ArrowDown" || e.key === "ArrowUp")) {
            e.preventDefault();
            onNext(row.id, e.key === "ArrowDown" ? 1 : -1);
          }
          if (e.key === "Enter" && folded === undefined && !inManual) actions.insert(index + 1);
        }}
      />
      {folded !== undefined && (
        <span className="text-sm text-soft">{folded === 1 ? "1 step hidden" : `${folded} steps hidden`}</span>
      )}
      <Grip
        sortable={sortable}
        what={`section ${number} with its steps`}
        title="Drag to move the section with its steps"
        hover="hover:bg-paper"
      />
      <Actions
        label={`Actions for section ${number}`}
        choices={menu}
        className="rounded p-1 text-soft hover:bg-paper hover:text-ink"
      >
        <Ellipsis size={17} aria-hidden />
      </Actions>
    </li>
  );
});
