import { Ellipsis } from "lucide-react";
import { memo, useMemo, useState } from "react";
import type { Tags } from "../api/client";
import { core, type Numbers } from "../core/core";
import { Actions, Button, type Choice } from "../ui/controls";
import { WordsEditor } from "../words/WordsEditor";
import { WordsView } from "../words/WordsView";
import { FigureView } from "./FigureView";
import type { Dragged } from "./Dragging";
import { Grip, useSortableRow } from "./Grip";
import type { Row } from "./model";
import { emptyNotice, NoticeEditor } from "./NoticeEditor";
import type { Picture } from "./picture";
import { TimeField } from "./TimeField";
import type { StepActions } from "./useActions";

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
  actions: StepActions;
  pictureOf: (shot: string) => Picture;
  /** Changes when pictures of the step change. */
  pictures: string;
  /** Tells the list how high the row is. */
  measure: (element: HTMLElement | null) => void;
  writing: boolean;
  onWriting: (id: string | undefined) => void;
};

/** A step on the page. */
export const StepRow = memo(function StepRow(props: Props) {
  const { row, index, count, actions, measure } = props;
  const { sortable, ref, style } = useSortableRow(row.id, measure);
  const landing = sortable.isOver && (sortable.active?.data.current as Dragged | undefined)?.shot !== undefined;
  const { numbers } = props;
  const number = numbers.blocks[row.id] ?? "";
  const tags = useMemo(() => core.tags(row.content.figures, numbers), [row.content.figures, numbers]);
  const menu: Choice[] = [
    { label: "Add a step above", run: () => actions.insert(index) },
    { label: "Add a step below", run: () => actions.insert(index + 1) },
    ...(row.content.notice
      ? []
      : [
          {
            label: "Warn before this step",
            run: () => actions.write(row.id, "Add a notice", { ...row.content, notice: emptyNotice }),
          },
        ]),
    { label: "Begin a section here", run: () => actions.section(index) },
    { label: "Add pictures to this step", run: () => actions.addPictures(row.id) },
    "line",
    ...(props.joins ? [{ label: "Join with the step above", run: () => actions.join(row.id) }] : []),
    ...(row.content.words.content?.length !== 1 || row.content.words.content[0]?.type !== "paragraph"
      ? [{ label: "Make a step of each line", run: () => actions.eachLine(row.id) }]
      : []),
    "line",
    ...(index > 0 ? [{ label: "Move up", run: () => actions.move(row.id, index - 1) }] : []),
    ...(index < count - 1 ? [{ label: "Move down", run: () => actions.move(row.id, index + 1) }] : []),
    "line",
    { label: "Delete step", run: () => actions.remove(row.id), danger: true },
  ];
  return (
    <li
      ref={ref}
      data-block={row.id}
      data-index={props.seen}
      style={style}
      className={`grid grid-cols-[3.6rem_minmax(0,21rem)_minmax(0,1fr)] gap-x-4 border-b border-line bg-paper px-5 py-4 ${sortable.isDragging ? "relative z-10 opacity-70" : ""} ${landing ? "border-t-2 border-t-action" : ""}`}
      onKeyDown={(e) => {
        if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
        const to = index + (e.key === "ArrowUp" ? -1 : 1);
        if (to < 0 || to >= count) return;
        e.preventDefault();
        actions.move(row.id, to);
      }}
    >
      <div className={`flex flex-col items-start ${row.content.notice ? "row-span-2" : ""}`}>
        <span className="text-2xl leading-7 font-bold">{number}</span>
        <TimeField
          label={`Time that step ${number} takes`}
          seconds={row.content.seconds}
          className="mt-1 -ml-1 w-16 text-xs placeholder:opacity-0 hover:placeholder:opacity-100 focus:placeholder:opacity-100"
          onChange={(seconds) => actions.write(row.id, "Say how long a step takes", { ...row.content, seconds })}
        />
        <div className="mt-1 -ml-1.5 flex flex-col">
          <Grip sortable={sortable} what={`step ${number}`} title="Drag to move" hover="hover:bg-desk" />
          <Actions
            label={`Actions for step ${number}`}
            choices={menu}
            className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
          >
            <Ellipsis size={17} aria-hidden />
          </Actions>
        </div>
      </div>
      {row.content.notice && (
        <div className="col-span-2">
          <NoticeEditor
            notice={row.content.notice}
            whose={`step ${number}`}
            onChange={(notice) =>
              actions.write(row.id, notice ? "Write a notice" : "Delete a notice", { ...row.content, notice }, true)
            }
          />
        </div>
      )}
      <Figures {...props} />
      <Words {...props} markers={tags} />
    </li>
  );
});

function Figures({ row, above, below, numbers, actions, pictureOf }: Props) {
  return (
    <div className="space-y-2">
      {row.content.figures.map((f, i) => {
        const picture = pictureOf(f.shot);
        const moves: Choice[] = [
          { label: "Mark the picture", run: () => actions.open(f.id) },
          ...(above
            ? [{ label: "Move the picture to the step above", run: () => actions.merge(row.id, f.id, above) }]
            : []),
          ...(below
            ? [{ label: "Move the picture to the step below", run: () => actions.merge(row.id, f.id, below) }]
            : []),
          "line",
          { label: "Delete the picture", run: () => actions.dropPicture(row.id, f.id), danger: true },
        ];
        const name = `picture${row.content.figures.length > 1 ? ` ${i + 1}` : ""} of step ${numbers.blocks[row.id]}`;
        return (
          <div key={f.id} className="group relative">
            <FigureView
              figure={f}
              picture={pictureOf}
              first={numbers.markers[f.id] ?? 1}
              label={`Mark the ${name}`}
              onOpen={() => actions.open(f.id)}
            />
            {picture.error && (
              <div role="alert" className="border border-t-0 border-mustfix bg-paper p-3">
                <p className="font-bold break-words text-mustfix">{picture.name} can’t be used</p>
                <p className="text-sm">{picture.error}</p>
                <Button className="mt-2" onClick={() => actions.dropPicture(row.id, f.id)}>
                  Delete
                </Button>
              </div>
            )}
            <Actions
              label={`Actions for the ${name}`}
              choices={moves}
              className="absolute top-1.5 right-1.5 rounded border border-line bg-paper p-0.5 text-ink group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100 [@media(hover:hover)]:opacity-0"
            >
              <Ellipsis size={17} aria-hidden />
            </Actions>
          </div>
        );
      })}
      {row.content.figures.length === 0 && (
        <button
          type="button"
          onClick={() => actions.addPictures(row.id)}
          className="w-full rounded border border-dashed border-soft px-3 py-6 text-soft hover:border-action hover:text-action"
        >
          Add a picture, or paste one
        </button>
      )}
    </div>
  );
}

function Words({ row, numbers, actions, writing, onWriting, markers }: Props & { markers: Tags }) {
  const [at, setAt] = useState<{ left: number; top: number }>();
  const number = numbers.blocks[row.id];
  const label = `Words of step ${number}`;
  if (writing) {
    return (
      <div className="min-w-0">
        <WordsEditor
          label={label}
          words={row.content.words}
          markers={markers}
          at={at}
          onChange={(words) => actions.write(row.id, "Write words", { ...row.content, words }, true)}
          onLeave={() => onWriting(undefined)}
          onDivide={(before, behind) => actions.divide(row.id, before, behind)}
        />
      </div>
    );
  }
  const empty = core.empty(row.content.words);
  const open = (place?: { left: number; top: number }) => {
    setAt(place);
    onWriting(row.id);
  };
  return (
    <div
      role="group"
      data-words
      aria-label={label}
      className="min-h-24 min-w-0 cursor-text self-start text-[1.06rem] leading-[1.5]"
      onClick={(e) => {
        if (!(e.target as HTMLElement).closest("a")) open({ left: e.clientX, top: e.clientY });
      }}
    >
      {empty ? (
        <span className="text-soft">Say what to do here</span>
      ) : (
        <WordsView words={row.content.words} markers={markers} />
      )}
      <Button
        className="sr-only focus-visible:not-sr-only"
        onClick={(e) => {
          e.stopPropagation();
          open();
        }}
      >
        Write the words of step {number}
      </Button>
    </div>
  );
}
