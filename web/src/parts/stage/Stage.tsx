import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import type { Figure, Shot } from "../../base/api/client";
import { Timeline } from "../clips/Timeline";
import { takeFrame } from "./takeFrame";
import { useFrames } from "../clips/useFrames";
import { core, type Numbers } from "../../base/core/core";
import type { Row } from "../document/model";
import type { Picture } from "../document/picture";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { WordsView } from "../words/WordsView";
import { Board } from "./Board";
import { StageProvider } from "./core";
import type { FigureChange } from "./change";
import { copyFinished } from "./finished";
import { nameOf } from "./name";
import { SaveAs } from "./SaveAs";
import { useTakeOut } from "./useTakeOut";
import { HandedOut } from "./HandedOut";
import { InsetDialog } from "./InsetDialog";
import { useColours } from "./useColours";
import { Reshoot } from "./Reshoot";
import { SlimLines } from "./SlimLines";
import { StageColumn } from "./StageColumn";
import { useStageKeys } from "./useStageKeys";
import { useGround, useTaken } from "./useKnown";
import type { Replacement } from "./useReplacement";
import { useStage } from "./useStage";
import { useZoom } from "./useZoom";

type Props = {
  rows: Row[];
  row: Row;
  figureID: string;
  numbers: Numbers;
  picture: (shot: string) => Picture;
  /** Changes the open figure as it is now. */
  onFigure: (label: string, change: FigureChange) => void;
  /** Changes all figures in one edit; not given where there is one picture only. */
  onFigures?: (label: string, change: FigureChange) => void;
  /** Puts text that was read in the picture into the words of its step. */
  onSay?: (text: string) => void;
  onOpen: (figure: string) => void;
  onClose: () => void;
  /** What Escape does where nothing is chosen; closes the picture where that leads back to its step. */
  onEscape?: () => void;
  /** A shot came to be known that the document did not use before. */
  onShot?: (shot: Shot) => void;
  /** What new shots became of the document's pictures; not given where there is no document. */
  replacement?: Replacement;
};

const nothing = { x: 0, y: 0, w: 16, h: 9 };

/** A picture opened in place; the other steps are slim lines, the left column is the pad. */
export function Stage(props: Props) {
  const { rows, row, figureID, numbers, onFigure, onFigures, onClose, replacement } = props;
  const position = rows.indexOf(row);
  const number = numbers.blocks[row.id];
  const place = row.content.figures.findIndex((f) => f.id === figureID);
  const figure = row.content.figures[place];
  const { picture: pictureOf } = props;
  const picture = figure && pictureOf(figure.shot);
  const size = picture?.size;
  const first = numbers.markers[figureID] ?? 1;
  const tags = useMemo(() => core.tags(row.content.figures, numbers), [row.content.figures, numbers]);
  const notice = useNotice();
  const navigate = useNavigate();
  const editor = useRef<HTMLTextAreaElement>(null);
  const [insetting, setInsetting] = useState(false);

  const change = (label: string, part: Partial<Figure>) => onFigure(label, (f) => ({ ...f, ...part }));
  // Of a clip a moment is on the stage; what is done to it is put into the whole.
  const clip = picture?.progress === undefined ? figure?.clip : undefined;
  const frames = useFrames(figure?.shot, clip);
  const { at, frame } = frames;
  const moment = useMemo(() => (figure && clip ? core.clipMoment(figure, at) : figure), [figure, clip, at]);
  const shot = figure?.shot;
  const bare = useCallback(
    (of: string) => {
      const p = pictureOf(of);
      return { href: of === shot && frame ? frame : p.whole, size: p.size };
    },
    [pictureOf, shot, frame],
  );
  const pixels = useColours(moment, bare);
  const { stage, painting, view, show, take, opened } = useStage(moment, size, first, pixels, (done, label) =>
    onFigure(label, (f) => ({ ...(clip ? core.clipEdited(f, at, done) : done), alt: f.alt })),
  );
  const taken = useTaken(figure?.shot, picture);
  useGround(
    stage,
    figure && picture?.progress === undefined ? pixels(figure.shot).href : picture?.whole,
    size,
    taken,
    opened,
    show,
  );
  const grab = () => {
    if (figure)
      void takeFrame(figure.shot, at).then(
        (item) =>
          notice({
            text: "The frame is among your shots.",
            action: { label: "Open it", run: () => void navigate(`/shot/${item.id}`) },
          }),
        (e: Error) => notice({ text: e.message }),
      );
  };
  useEffect(() => {
    void scrollTo(0, 0); // newer browsers give a promise, which an effect must not
  }, [figureID]);
  const zoom = useZoom(view?.frame ?? nothing);
  const writes = view?.typing;
  const chosen = view?.selected?.id;
  useEffect(() => {
    if (writes) editor.current?.focus();
  }, [writes, chosen]);
  const copy = () => {
    if (figure) void copyFinished(figure, first, (text) => notice({ text }));
  };
  useStageKeys({
    stage,
    view,
    zoom,
    take,
    onClose: props.onEscape ?? onClose,
    onCopyPicture: copy,
    write: () => editor.current?.focus(),
  });
  const [naming, setNaming] = useState(false);
  const named = useMemo(
    () => nameOf(picture?.name, taken, numbers.figures[figureID] ?? 1, core.label(row.content)),
    [picture?.name, taken, numbers, figureID, row.content],
  );
  const out = useTakeOut(figure, first, named);
  if (!stage) return null;

  const reshoot = figure && props.onShot && replacement && (
    <Reshoot
      key={figure.id}
      figure={figure}
      first={first}
      rows={rows}
      numbers={numbers}
      replacement={replacement}
      onShot={props.onShot}
      onFigure={onFigure}
      onOpen={props.onOpen}
    />
  );
  return (
    <StageProvider value={stage}>
      <div className="grid min-h-[calc(100dvh-var(--bar))] grid-cols-[15rem_minmax(0,1fr)]">
        <StageColumn
          view={view}
          figure={figure}
          first={first}
          rows={rows}
          editor={editor}
          picture={picture}
          pictureOf={pictureOf}
          taken={taken}
          take={take}
          pixels={pixels}
          onSay={props.onSay}
          name={named}
          change={change}
          onFigures={onFigures}
          onInset={() => setInsetting(true)}
          reshoot={reshoot}
          walking={replacement?.walking ?? false}
        />
        <main className="min-w-0 bg-paper px-4 py-2">
          <SlimLines rows={rows.slice(0, position)} numbers={numbers} before onOpen={props.onOpen} />
          <div className="my-1 flex items-baseline gap-3 border-t border-line pt-2">
            {onFigures && <span className="text-xl font-bold">{number}</span>}
            <div className="line-clamp-2 min-w-0 flex-1">
              <WordsView words={row.content.words} markers={tags} />
            </div>
            <Button small onClick={copy}>
              Copy the picture
            </Button>
            <Button small disabled={out.busy} onClick={() => setNaming(true)}>
              Save it
            </Button>
            <Button small disabled={out.busy} onClick={() => void out.mail()}>
              Mail it
            </Button>
            <Button small onClick={onClose}>
              Close the picture
            </Button>
          </div>
          {figure && onFigures && <HandedOut key={figure.id + figure.shot} figure={figure} />}
          {view && figure && picture && size && (
            <Board
              view={view}
              figure={figure}
              painting={painting}
              zoom={zoom}
              take={take}
              copies
              low={clip !== undefined}
              label={`Picture of step ${number}. Choose from the pad, then drag, or press Enter to place`}
            />
          )}
          {clip && figure && (
            <Timeline
              figure={figure}
              clip={clip}
              frames={frames}
              mark={figure.marks.find((m) => m.id === view?.selected?.id)}
              onChange={change}
              onShot={grab}
            />
          )}
          {row.content.figures.length > 1 && (
            <p className="mt-2 flex gap-2">
              {row.content.figures.map((f, i) => (
                <Button key={f.id} disabled={f.id === figureID} onClick={() => props.onOpen(f.id)}>
                  Picture {i + 1}
                </Button>
              ))}
            </p>
          )}
          <SlimLines rows={rows.slice(position + 1)} numbers={numbers} onOpen={props.onOpen} />
        </main>
        {naming && (
          <SaveAs name={named} onSave={(as) => void out.save({ type: "png" }, as)} onDone={() => setNaming(false)} />
        )}
        {insetting && <InsetDialog onTake={take} onDone={() => setInsetting(false)} />}
      </div>
    </StageProvider>
  );
}
