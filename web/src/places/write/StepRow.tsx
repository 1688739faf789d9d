import { Ellipsis } from "lucide-react";
import { memo, useMemo, useState, useContext } from "react";
import type { CommentPlace, Figure, HouseStyle, Layout, Other, Tags } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import { Actions, Button, type Choice } from "../../base/ui/controls";
import { Comment, Pinned } from "../../parts/comments/commenting";
import { Redrawn } from "../../parts/comments/Redrawn";
import { At } from "../../parts/presence/At";
import { WordsEditor } from "../../parts/words/WordsEditor";
import { WordsView } from "../../parts/words/WordsView";
import { FigureView } from "./FigureView";
import { Beside, Does } from "./Beside";
import type { Dragged } from "./Dragging";
import { Fits } from "./Fits";
import { Grip, useSortableRow } from "./Grip";
import { plain } from "../../base/api/content";
import type { Row } from "../../parts/document/model";
import { emptyNotice, NoticeEditor } from "./NoticeEditor";
import type { Picture } from "../../parts/document/picture";
import { TimeField } from "./TimeField";
import type { StepActions } from "../../parts/document/useActions";

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
  inManual: boolean;
  numbers: Numbers;
  actions: StepActions;
  pictureOf: (shot: string) => Picture;
  /** Changes when pictures of the step change. */
  pictures: string;
  /** Tells the list how high the row is. */
  measure: (element: HTMLElement | null) => void;
  writing: boolean;
  /** Who else is at it: a name, marked where they write it; "" is nobody. */
  by: string;
  onWriting: (id: string | undefined) => void;
  /** Its words are not written any more. */
  onLeft: (id: string) => void;
  /** To the words of the block after it, or before. */
  onNext: (id: string, by: 1 | -1) => void;
  /** The procedure that the step hands over to. */
  does: Other | undefined;
  /** Pictures stand above the words, as layouts have them that are not for manuals. */
  wide: boolean;
  style: HouseStyle | undefined;
  layout: Layout;
  chosen: boolean;
  /** Whether any block is chosen: then all can be chosen by a press. */
  choosing: boolean;
  onChoose: (id: string, extend: boolean) => void;
};

/** A step, or a passage between steps, on the page. */
export const StepRow = memo(function StepRow(props: Props) {
  const { row, index, count, actions, measure } = props;
  const { sortable, ref, style } = useSortableRow(row.id, measure);
  const landing = sortable.isOver && (sortable.active?.data.current as Dragged | undefined)?.shot !== undefined;
  const { numbers, wide } = props;
  const { content } = row;
  const number = numbers.blocks[row.id] ?? "";
  const name = nameOf(row, numbers);
  const isStep = content.type === "step";
  const comment = useContext(Comment);
  const tags = useMemo(() => core.tags(row.content.figures, numbers), [row.content.figures, numbers]);
  const asked = content.asks && core.questions()[content.asks];
  const menu: Choice[] = asked
    ? answerMenu(row, actions, comment)
    : [
        ...(props.inManual ? [] : [{ label: "Add a step above", run: () => actions.insert(index) }]),
        ...(props.inManual ? [] : [{ label: "Add a step below", run: () => actions.insert(index + 1) }]),
        { label: "Add a passage above", run: () => actions.passage(index) },
        { label: "Begin a section here", run: () => actions.section(index) },
        "line",
        { label: `Add pictures to this ${content.type}`, run: () => actions.addPictures(row.id) },
        { label: `Take a shot for this ${content.type}`, run: () => actions.capture(row.id) },
        ...(isStep && !content.notice
          ? [
              {
                label: "Warn before this step",
                run: () => actions.change(row.id, "Add a notice", (c) => ({ ...c, notice: emptyNotice })),
              },
            ]
          : []),
        ...(isStep
          ? [
              {
                label: content.critical ? "It is not critical" : "It is a critical step",
                run: () =>
                  actions.change(row.id, "Say whether a step is critical", (c) => ({
                    ...c,
                    critical: content.critical ? undefined : true,
                  })),
              },
              { label: "Do another procedure here", run: () => actions.link({ block: row.id }) },
            ]
          : []),
        { label: `Comment on this ${content.type}`, run: () => comment?.({ block: row.id }) },
        ...content.figures.map((f, i) => ({
          label: content.figures.length > 1 ? `Comment on picture ${i + 1}` : "Comment on its picture",
          run: () => comment?.({ block: row.id, figure: f.id }),
        })),
        { label: "Put a web link or a film beside it", run: () => actions.webLink(row.id) },
        "line",
        ...(props.joins ? [{ label: "Join with the step above", run: () => actions.join(row.id) }] : []),
        ...(row.content.words.content?.length !== 1 || row.content.words.content[0]?.type !== "paragraph"
          ? [{ label: "Make a step of each line", run: () => actions.eachLine(row.id) }]
          : []),
        "line",
        ...(index > 0 ? [{ label: "Move up", run: () => actions.move(row.id, index - 1) }] : []),
        ...(index < count - 1 ? [{ label: "Move down", run: () => actions.move(row.id, index + 1) }] : []),
        "line",
        ...(props.inManual
          ? []
          : [
              {
                label: `Turn into a ${isStep ? "passage" : "step"}`,
                run: () =>
                  actions.change(row.id, "Turn a block into another", (c) => ({
                    ...c,
                    type: isStep ? "passage" : "step",
                    ...(isStep && { notice: undefined, critical: undefined, document: undefined, seconds: undefined }),
                  })),
              },
            ]),
        { label: `Choose this ${content.type}`, run: () => props.onChoose(row.id, false) },
        "line",
        { label: `Delete ${content.type}`, run: () => actions.remove(row.id), danger: true },
      ];
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
            onClick={(e) => (e.shiftKey || e.ctrlKey || e.metaKey) && props.onChoose(row.id, e.shiftKey)}
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
              onClick={(e) => props.onChoose(row.id, e.shiftKey)}
              className={`size-[18px] shrink-0 accent-action focus-visible:opacity-100 [@media(hover:hover)]:group-hover/gutter:opacity-100 ${props.choosing ? "" : "[@media(hover:hover)]:opacity-0"}`}
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
          {asked && <Choices row={row} choices={asked.choices} actions={actions} />}
          {!(asked && asked.choices.includes(core.label(content)) && !props.writing) && (
            <Words {...props} markers={tags} />
          )}
          {content.figures.length > 0 && (
            <div className="mt-3 max-w-[34rem]">
              <Figures {...props} />
            </div>
          )}
        </div>
      ) : (
        <>
          <Figures {...props} />
          <Words {...props} markers={tags} />
        </>
      )}
    </li>
  );
});

/** What can be done to an answer, which stays where it is. */
function answerMenu(row: Row, actions: StepActions, comment: ((place: CommentPlace) => void) | undefined): Choice[] {
  return [
    { label: "Add pictures here", run: () => actions.addPictures(row.id) },
    { label: "Take a shot for it", run: () => actions.capture(row.id) },
    { label: "Comment on it", run: () => comment?.({ block: row.id }) },
    { label: "Put a web link or a film beside it", run: () => actions.webLink(row.id) },
  ];
}

/** What most answers to a question are: a press writes one. */
function Choices({ row, choices, actions }: { row: Row; choices: string[]; actions: StepActions }) {
  if (choices.length === 0) return null;
  const said = core.label(row.content);
  return (
    <div className="my-1 flex flex-wrap gap-1">
      {choices.map((choice) => (
        <Button
          key={choice}
          small
          aria-pressed={said === choice}
          className="aria-pressed:border-action aria-pressed:bg-action aria-pressed:text-paper"
          onClick={() =>
            actions.change(row.id, "Answer a question", (c) => ({ ...c, words: plain(said === choice ? "" : choice) }))
          }
        >
          {choice}
        </Button>
      ))}
    </div>
  );
}

const nameOf = (row: Row, numbers: Numbers) =>
  row.content.asks
    ? `“${core.questions()[row.content.asks]?.said ?? ""}”`
    : row.content.type === "passage"
      ? `the passage “${core.label(row.content)}”`
      : `step ${numbers.blocks[row.id] ?? ""}`;

function Figures({ row, above, below, numbers, actions, pictureOf }: Props) {
  const { threads } = useContext(Pinned);
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
        const name = `picture${row.content.figures.length > 1 ? ` ${i + 1}` : ""} of ${nameOf(row, numbers)}`;
        const drawn = (figure: Figure, label: string, onOpen: () => void) => (
          <FigureView
            figure={figure}
            picture={pictureOf}
            first={numbers.markers[f.id] ?? 1}
            label={label}
            onOpen={onOpen}
          />
        );
        return (
          <div key={f.id} className="group relative">
            <Redrawn figure={f} threads={threads} draw={(look) => drawn(look, "Suggested", () => undefined)}>
              {drawn(f, `Mark the ${name}`, () => actions.open(f.id))}
            </Redrawn>
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
      {row.content.figures.length === 0 && !row.content.document && (
        <button
          type="button"
          onClick={() => actions.addPictures(row.id)}
          className="w-full max-w-[28.1rem] rounded border border-dashed border-soft px-3 py-6 text-soft hover:border-action hover:text-action"
        >
          Add a picture, or paste one
        </button>
      )}
    </div>
  );
}

function Words({
  row,
  numbers,
  actions,
  writing,
  onWriting,
  onLeft,
  onNext,
  markers,
  does,
  style,
  layout,
  pictureOf,
}: Props & { markers: Tags }) {
  const [at, setAt] = useState<{ left: number; top: number }>();
  const name = nameOf(row, numbers);
  const label = row.content.type === "passage" && !row.content.asks ? "Words of the passage" : `Words of ${name}`;
  const { content } = row;
  const leads = (
    <>
      {content.document && (
        <Does
          other={does}
          document={content.document}
          onDrop={() => actions.change(row.id, "Take a link away", (c) => ({ ...c, document: undefined }))}
        />
      )}
    </>
  );
  const beside = (
    <Beside
      content={content}
      onChange={(beside) =>
        actions.change(row.id, "Change web links", (c) => ({ ...c, beside: beside.length > 0 ? beside : undefined }))
      }
    />
  );
  if (writing) {
    return (
      <div className="mt-1 min-w-0">
        {leads}
        <WordsEditor
          label={label}
          words={row.content.words}
          markers={markers}
          at={at}
          onChange={(words) => actions.type(row.id, words)}
          onLeave={() => onLeft(row.id)}
          onNext={(by) => onNext(row.id, by)}
          onDivide={content.type === "step" ? (before, behind) => actions.divide(row.id, before, behind) : undefined}
        />
        {content.type === "step" && style && (
          <Fits content={content} style={style} layout={layout} pictureOf={pictureOf} />
        )}
        {beside}
      </div>
    );
  }
  const empty = core.empty(row.content.words);
  const open = (place?: { left: number; top: number }) => {
    setAt(place);
    onWriting(row.id);
  };
  return (
    <div className="mt-1 min-w-0">
      {leads}
      <div
        role="group"
        data-words
        aria-label={label}
        className={`${content.type === "passage" || content.document ? "min-h-8" : "min-h-24"} min-w-0 cursor-text self-start text-[1.06rem] leading-[1.5]`}
        onClick={(e) => {
          if (!(e.target as HTMLElement).closest("a")) open({ left: e.clientX, top: e.clientY });
        }}
      >
        {empty ? (
          <span className="text-soft">
            {content.asks
              ? "Write it in a line or two"
              : content.type === "passage"
                ? "Write what readers should know here"
                : content.document
                  ? "Say more, if need be"
                  : "Say what to do here"}
          </span>
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
          Write the words of {name}
        </Button>
      </div>
      {beside}
    </div>
  );
}
