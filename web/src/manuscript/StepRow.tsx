import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { Ellipsis, GripVertical } from "lucide-react";
import { memo, useMemo, useRef, useState } from "react";
import type { Finding, Content, Tags } from "../api/client";
import { core, type Numbers } from "../core/core";
import { Actions, Button, type Choice } from "../ui/controls";
import { WordsEditor } from "../words/WordsEditor";
import { WordsView } from "../words/WordsView";
import { FigureView } from "./FigureView";
import type { Known, Row } from "./model";
import type { Picture } from "./picture";
import { useNear } from "./useNear";

/** What a person can do to a step. */
export type StepActions = {
  write: (id: string, label: string, content: Content, joins?: boolean) => void;
  insert: (at: number) => void;
  move: (id: string, to: number) => void;
  remove: (id: string) => void;
  merge: (id: string, figure: string, to: number) => void;
  unfold: (step: string, figure: string) => void;
  addPictures: (step: string) => void;
  dropPicture: (step: string, figure: string) => void;
  settle: (id: string, choice: "mine" | "theirs") => void;
};

type Props = {
  row: Row;
  index: number;
  count: number;
  numbers: Numbers;
  actions: StepActions;
  pictureOf: (shot: string) => Picture;
  /** Changes when pictures of the step change. */
  pictures: string;
  findings: Finding[];
  theirs?: Known;
  writing: boolean;
  onWriting: (id: string | undefined) => void;
};

/** A step on the page. Far from the screen it is only its number and first sentence, so that long documents open at once. */
export const StepRow = memo(function StepRow(props: Props) {
  const place = useRef<HTMLLIElement>(null);
  const near = useNear(place, 1500, props.writing);
  if (near) return <WholeRow {...props} />;
  return (
    <li ref={place} data-step={props.row.id} className="grid min-h-56 grid-cols-[minmax(0,1fr)_17rem]">
      <div className="flex gap-9 border-b border-line bg-paper px-5 py-4">
        <span className="text-2xl leading-7 font-bold">{props.numbers.blocks[props.row.id]}</span>
        <span className="text-soft">{core.label(props.row.content)}</span>
      </div>
    </li>
  );
});

function WholeRow(props: Props) {
  const { row, index, count, actions, findings, theirs } = props;
  const sortable = useSortable({ id: row.id });
  const { numbers } = props;
  const number = numbers.blocks[row.id] ?? "";
  const tags = useMemo(() => core.tags(row.content.figures, numbers), [row.content.figures, numbers]);
  const menu: Choice[] = [
    { label: "Add a step above", run: () => actions.insert(index) },
    { label: "Add a step below", run: () => actions.insert(index + 1) },
    { label: "Add pictures to this step", run: () => actions.addPictures(row.id) },
    "line",
    ...(index > 0 ? [{ label: "Move up", run: () => actions.move(row.id, index - 1) }] : []),
    ...(index < count - 1 ? [{ label: "Move down", run: () => actions.move(row.id, index + 1) }] : []),
    "line",
    { label: "Delete step", run: () => actions.remove(row.id), danger: true },
  ];
  return (
    <li
      ref={sortable.setNodeRef}
      data-step={row.id}
      style={{ transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition }}
      className={`grid grid-cols-[minmax(0,1fr)_17rem] ${sortable.isDragging ? "relative z-10 opacity-70" : ""}`}
      onKeyDown={(e) => {
        if (!e.altKey || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
        const to = index + (e.key === "ArrowUp" ? -1 : 1);
        if (to < 0 || to >= count) return;
        e.preventDefault();
        actions.move(row.id, to);
      }}
    >
      <div className="grid grid-cols-[3.6rem_minmax(0,21rem)_minmax(0,1fr)] gap-x-4 border-b border-line bg-paper px-5 py-4">
        <div className="flex flex-col items-start">
          <span className="text-2xl leading-7 font-bold">{number}</span>
          <div className="mt-1 -ml-1.5 flex flex-col">
            <button
              type="button"
              {...sortable.attributes}
              {...sortable.listeners}
              aria-label={`Move step ${number}: press Space, then the arrow keys, then Space`}
              title="Drag to move. With the keyboard: Alt and an arrow key"
              className="cursor-grab touch-none rounded p-1 text-soft hover:bg-desk hover:text-ink"
            >
              <GripVertical size={17} aria-hidden />
            </button>
            <Actions
              label={`Actions for step ${number}`}
              choices={menu}
              className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
            >
              <Ellipsis size={17} aria-hidden />
            </Actions>
          </div>
        </div>
        <Figures {...props} />
        <Words {...props} markers={tags} />
      </div>
      <div className="space-y-3 py-4 pr-4 pl-5">
        {theirs && (
          <Conflict
            number={number}
            numbers={numbers}
            mine={row.content}
            theirs={theirs}
            settle={(c) => actions.settle(row.id, c)}
          />
        )}
        {findings.map((f) => (
          <Margin key={f.rule + (f.figure ?? "")} finding={f}>
            {f.rule === "no-words" && (
              <Button look="quiet" className="-ml-3 font-bold" onClick={() => props.onWriting(row.id)}>
                Write the words
              </Button>
            )}
            {f.rule === "no-alt" && f.figure && (
              <Button
                look="quiet"
                className="-ml-3 font-bold"
                onClick={() => actions.unfold(row.id, f.figure as string)}
              >
                Describe it
              </Button>
            )}
          </Margin>
        ))}
      </div>
    </li>
  );
}

/** One finding in the margin. */
export function Margin({ finding, children }: { finding: Finding; children?: React.ReactNode }) {
  const must = finding.severity === "must-fix";
  return (
    <div className={`border-l-[3px] pl-3 ${must ? "border-mustfix" : "border-look"}`}>
      <p className="font-bold">
        <span className={must ? "text-mustfix" : "text-look"}>{must ? "Must fix" : "Worth a look"}: </span>
        {finding.title}
      </p>
      <p className="text-sm text-soft">{finding.advice}</p>
      {children}
    </div>
  );
}

function Figures({ row, index, count, numbers, actions, pictureOf }: Props) {
  return (
    <div className="space-y-2">
      {row.content.figures.map((f, i) => {
        const picture = pictureOf(f.shot);
        const moves: Choice[] = [
          { label: "Mark up", run: () => actions.unfold(row.id, f.id) },
          ...(index > 0
            ? [{ label: "Move the picture to the step above", run: () => actions.merge(row.id, f.id, index - 1) }]
            : []),
          ...(index < count - 1
            ? [{ label: "Move the picture to the step below", run: () => actions.merge(row.id, f.id, index + 1) }]
            : []),
          "line",
          { label: "Take the picture away", run: () => actions.dropPicture(row.id, f.id), danger: true },
        ];
        const name = `picture${row.content.figures.length > 1 ? ` ${i + 1}` : ""} of step ${numbers.blocks[row.id]}`;
        return (
          <div key={f.id} className="group relative">
            <FigureView
              figure={f}
              picture={pictureOf}
              first={numbers.markers[f.id] ?? 1}
              label={`Mark up the ${name}`}
              onOpen={() => actions.unfold(row.id, f.id)}
            />
            {picture.error && (
              <div role="alert" className="border border-t-0 border-mustfix bg-paper p-3">
                <p className="font-bold break-words text-mustfix">{picture.name} can’t be used</p>
                <p className="text-sm">{picture.error}</p>
                <Button className="mt-2" onClick={() => actions.dropPicture(row.id, f.id)}>
                  Remove
                </Button>
              </div>
            )}
            <Actions
              label={`Actions for the ${name}`}
              choices={moves}
              className="absolute top-1.5 right-1.5 rounded border border-line bg-paper p-0.5 text-ink opacity-0 group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100"
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

/** Someone else changed the step meanwhile: both are shown, a person chooses. */
function Conflict({
  number,
  numbers,
  mine,
  theirs,
  settle,
}: {
  number: string;
  numbers: Numbers;
  mine: Content;
  theirs: Known;
  settle: (choice: "mine" | "theirs") => void;
}) {
  const sides = [
    { title: "Yours", choice: "mine" as const, content: mine, removed: false },
    {
      title: theirs.by ? `By ${theirs.by}` : "Theirs",
      choice: "theirs" as const,
      content: theirs.content,
      removed: theirs.removed,
    },
  ];
  return (
    <section role="alert" aria-label={`Two versions of step ${number}`} className="border-l-[3px] border-mustfix pl-3">
      <p className="font-bold">{theirs.by ?? "Someone"} changed this step too</p>
      <p className="mb-2 text-sm text-soft">Both versions are kept. Choose one; undo brings the other back.</p>
      {sides.map((s) => (
        <div key={s.title} className="mb-2 rounded border border-line bg-paper p-2.5">
          <p className="text-sm font-bold text-soft">{s.title}</p>
          {s.removed ? (
            <p>The step was deleted.</p>
          ) : (
            <>
              <WordsView words={s.content.words} markers={core.tags(s.content.figures, numbers)} />
              <p className="mt-1 text-sm text-soft">
                {s.content.figures.length === 1 ? "1 picture" : `${s.content.figures.length} pictures`},{" "}
                {s.content.figures.reduce((n, f) => n + f.marks.length, 0)} marks
              </p>
            </>
          )}
          <Button className="mt-2" onClick={() => settle(s.choice)}>
            {s.choice === "mine" ? "Use mine" : "Use theirs"}
          </Button>
        </div>
      ))}
    </section>
  );
}
