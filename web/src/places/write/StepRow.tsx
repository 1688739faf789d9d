import { Ellipsis } from "lucide-react";
import { memo, useContext, useMemo } from "react";
import type { Other } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import { Actions } from "../../base/ui/controls";
import { Comment } from "../../parts/comments/commenting";
import type { Row } from "../../parts/document/model";
import { At } from "../../parts/presence/At";
import { AskedChoices } from "./AskedChoices";
import { useDesk } from "./desk";
import { draggedShot } from "./Dragging";
import { Grip, useSortableRow } from "./Grip";
import { NoticeEditor } from "./NoticeEditor";
import { StepFigures } from "./StepFigures";
import { answerMenu, stepMenu } from "./stepMenu";
import { nameOf } from "./stepName";
import { StepWords } from "./StepWords";
import { TimeField } from "./TimeField";

type Props = {
  row: Row;
  index: number;
  /** Its place among the rows that are seen. */
  seen: number;
  count: number;
  /** The ids of the steps before and after it, across headings; and whether the block above is a step. */
  above: string | undefined;
  below: string | undefined;
  joins: boolean;
  numbers: Numbers;
  /** Changes when pictures of the step change. */
  pictures: string;
  /** Tells the list how high the row is. */
  measure: (element: HTMLElement | null) => void;
  writing: boolean;
  /** Who else is at it: a name, marked where they write it; "" is nobody. */
  by: string;
  /** To the words of the block after it, or before. */
  onNext: (id: string, by: 1 | -1) => void;
  /** The procedure that the step hands over to. */
  does: Other | undefined;
  chosen: boolean;
  /** Whether any block is chosen: then all can be chosen by a press. */
  choosing: boolean;
};

/** A step, or a passage between steps, on the page. */
export const StepRow = memo(function StepRow(props: Props) {
  const { row, index, count, measure, numbers } = props;
  const desk = useDesk();
  const { actions, onChoose } = desk;
  const wide = desk.layout !== "running"; // layouts that are not for manuals have pictures above the words
  const { sortable, ref, style } = useSortableRow(row.id, measure);
  const landing = sortable.isOver && draggedShot(sortable.active) !== undefined;
  const { content } = row;
  const number = numbers.blocks[row.id] ?? "";
  const name = nameOf(row, numbers);
  const isStep = content.type === "step";
  const comment = useContext(Comment);
  const tags = useMemo(() => core.tags(row.content.figures, numbers), [row.content.figures, numbers]);
  const asked = content.asks && core.questions()[content.asks];
  const menu = asked ? answerMenu(row, actions, comment) : stepMenu(desk, props, comment);
  return (
    <li
      ref={ref}
      data-block={row.id}
      data-index={props.seen}
      style={style}
      className={`relative grid gap-x-3 border-b border-line px-4 py-4 ${wide || content.type === "passage" ? "grid-cols-[3.2rem_minmax(0,1fr)]" : "grid-cols-[3.2rem_28.1rem_minmax(0,1fr)]"} ${props.chosen ? "bg-[#e3eef0]" : "bg-paper"} ${sortable.isDragging ? "z-10 opacity-70" : ""} ${landing ? "border-t-2 border-t-action" : ""}`}
      onKeyDown={(e) => {
        if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
        const to = index + (e.key === "ArrowUp" ? -1 : 1);
        if (to < 0 || to >= count) return;
        e.preventDefault();
        actions.move(row.id, to);
      }}
    >
      <At by={props.by} />
      <div
        className={`group/gutter flex flex-col items-start ${content.notice || content.critical || wide ? "row-span-3" : ""}`}
      >
        <div className="flex w-full items-center justify-between">
          <span
            className="text-2xl leading-7 font-bold"
            onClick={(e) => (e.shiftKey || e.ctrlKey || e.metaKey) && onChoose(row.id, e.shiftKey)}
          >
            {number}
          </span>
          {!asked && (
            <input
              type="checkbox"
              aria-label={`Choose ${name}`}
              title="Choose it, with Shift all up to it"
              checked={props.chosen}
              onChange={() => undefined}
              onClick={(e) => onChoose(row.id, e.shiftKey)}
              className={`size-[18px] shrink-0 focus-visible:opacity-100 [@media(hover:hover)]:group-hover/gutter:opacity-100 ${props.choosing ? "" : "[@media(hover:hover)]:opacity-0"}`}
            />
          )}
        </div>
        {isStep && (
          <TimeField
            label={`Time that step ${number} takes`}
            seconds={content.seconds}
            className="mt-1 -ml-1 w-15 text-xs placeholder:opacity-0 hover:placeholder:opacity-100 focus:placeholder:opacity-100"
            onChange={(seconds) => actions.change(row.id, "Say how long a step takes", (c) => ({ ...c, seconds }))}
          />
        )}
        <div className="mt-1 -ml-1.5 flex items-center">
          {!asked && <Grip sortable={sortable} what={name} title="Drag to move" hover="hover:bg-desk" />}
          <Actions
            label={`Actions for ${name}`}
            choices={menu}
            className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
          >
            <Ellipsis size={17} aria-hidden />
          </Actions>
        </div>
      </div>
      {content.critical && (
        <p className={`mb-2 ${wide ? "" : "col-span-2"}`}>
          <span className="bg-ink px-2 py-0.5 text-sm font-bold text-paper">
            Critical step: readers make sure of it before they go on
          </span>
        </p>
      )}
      {row.content.notice && (
        <div className={wide ? "" : "col-span-2"}>
          <NoticeEditor
            notice={row.content.notice}
            whose={`step ${number}`}
            onChange={(notice) =>
              actions.change(row.id, notice ? "Write a notice" : "Delete a notice", (c) => ({ ...c, notice }), true)
            }
          />
        </div>
      )}
      {content.type === "passage" ? (
        <div>
          {asked && <h2 className="text-sm font-bold text-soft">{asked.said}</h2>}
          {asked && <AskedChoices row={row} choices={asked.choices} />}
          {!(asked && asked.choices.includes(core.label(content)) && !props.writing) && (
            <StepWords {...props} markers={tags} />
          )}
          {content.figures.length > 0 && (
            <div className="mt-3 max-w-[34rem]">
              <StepFigures {...props} />
            </div>
          )}
        </div>
      ) : (
        <>
          <StepFigures {...props} />
          <StepWords {...props} markers={tags} />
        </>
      )}
    </li>
  );
});
