import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Shot, Content } from "../api/client";
import { core, type Numbers, stage } from "../core/core";
import type { Row } from "../manuscript/model";
import type { Picture } from "../manuscript/picture";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { WordsView } from "../words/WordsView";
import { Canvas } from "./Canvas";
import { CropPanel } from "./CropPanel";
import { Finished } from "./Finished";
import { HandedOut } from "./HandedOut";
import { InsetDialog } from "./InsetDialog";
import { Known } from "./Known";
import { MarkList } from "./MarkList";
import { Pad } from "./Pad";
import { PicturePanel } from "./PicturePanel";
import { copyFinished } from "./finished";
import { Reshoot } from "./Reshoot";
import { Secrets } from "./Secrets";
import { Several } from "./Several";
import { Strip } from "./Strip";
import { Styles } from "./Styles";
import { useKeys, oneToOne } from "./useKeys";
import type { Renewal } from "./useRenewal";
import { useGround, useTaken } from "./useKnown";
import { useStage } from "./useStage";
import { useZoom } from "./useZoom";

type Props = {
  rows: Row[];
  row: Row;
  figureID: string;
  numbers: Numbers;
  picture: (shot: string) => Picture;
  onChange: (label: string, content: Content) => void;
  /** Changes several steps at once; not given where there is one picture only. */
  onChangeAll?: (label: string, contents: Map<string, Content>) => void;
  onUnfold: (step: string, figure: string) => void;
  onFold: () => void;
  /** A shot came to be known that the document did not use before. */
  onShot?: (shot: Shot) => void;
  /** What new shots became of the document's pictures; not given where there is no document. */
  renewal?: Renewal;
};

/** Of the steps above, the nearest are seen. */
const toEnd = (list: HTMLElement | null) => {
  void list?.scrollTo(0, list.scrollHeight);
};

const empty = { x: 0, y: 0, w: 16, h: 9 };

/** A picture unfolded in place; the other steps are slim lines, the left column is the pad. */
export function Stage(props: Props) {
  const { rows, row, figureID, onChange, onChangeAll, onFold, renewal, numbers } = props;
  const position = rows.indexOf(row);
  const number = numbers.blocks[row.id];
  const place = row.content.figures.findIndex((f) => f.id === figureID);
  const figure = row.content.figures[place];
  const picture = figure && props.picture(figure.shot);
  const size = picture?.size;
  const first = numbers.markers[figureID] ?? 1;
  const tags = useMemo(() => core.tags(row.content.figures, numbers), [row.content.figures, numbers]);
  const notice = useNotice();
  const editor = useRef<HTMLTextAreaElement>(null);
  const [insetting, setInsetting] = useState(false);

  const change = (label: string, part: object) =>
    onChange(label, {
      ...row.content,
      figures: row.content.figures.map((f, i) => (i === place ? { ...f, ...part } : f)),
    });
  const { view, show, take, opened } = useStage(figure, size, first, (done, label) =>
    onChange(label, {
      ...row.content,
      figures: row.content.figures.map((f, i) => (i === place ? { ...done, alt: f.alt } : f)),
    }),
  );
  const taken = useTaken(figure?.shot, picture);
  useGround(picture, size, taken, opened, show);
  useEffect(() => {
    void scrollTo(0, 0); // newer browsers give a promise, which an effect must not
  }, [figureID]);
  const zoom = useZoom(view?.frame ?? empty);

  const { picture: pictureOf } = props;
  const pixels = useCallback(
    (shot: string) => {
      const p = pictureOf(shot);
      return { href: p.whole, size: p.size };
    },
    [pictureOf],
  );
  const writes = view?.typing;
  const chosen = view?.selected?.id;
  useEffect(() => {
    if (writes) editor.current?.focus();
  }, [writes, chosen]);
  useKeys({
    view,
    zoom,
    take,
    onFold,
    onCopyPicture: () => {
      if (figure) void copyFinished(figure, first, (text) => notice({ text }));
    },
    write: () => editor.current?.focus(),
  });

  const renew = figure && props.onShot && renewal && (
    <Reshoot
      key={figure.id}
      figure={figure}
      first={first}
      rows={rows}
      numbers={numbers}
      renewal={renewal}
      onShot={props.onShot}
      onChange={(label, next) => change(label, { ...next, alt: figure.alt })}
      onUnfold={props.onUnfold}
    />
  );
  const line = (r: Row) => (
    <li key={r.id}>
      <button
        type="button"
        disabled={r.content.figures.length === 0}
        onClick={() => props.onUnfold(r.id, r.content.figures[0]?.id ?? "")}
        className="flex w-full gap-3 rounded px-2 py-1 text-left text-soft enabled:hover:bg-desk"
      >
        <span className="w-6 shrink-0 text-right font-bold">{numbers.blocks[r.id]}</span>
        <span className="truncate">{core.label(r.content)}</span>
      </button>
    </li>
  );
  const slim = (from: number, to: number) => (
    <ol ref={from === 0 ? toEnd : undefined} className={from === 0 ? "max-h-16 overflow-y-auto" : ""}>
      {rows.slice(from, to).map(line)}
    </ol>
  );
  const sameCrop = () => {
    const contents = new Map<string, Content>();
    for (const r of rows) {
      const figures = r.content.figures.map((f) => {
        const other = props.picture(f.shot).size;
        const fits = f.id !== figureID && other && size && other.w === size.w && other.h === size.h && !f.quarter;
        return fits ? { ...f, crop: figure?.crop } : f;
      });
      if (figures.some((f, i) => f !== r.content.figures[i])) contents.set(r.id, { ...r.content, figures });
    }
    onChangeAll?.("Give pictures the same crop", contents);
    notice({ text: `${contents.size === 1 ? "1 step has" : `${contents.size} steps have`} this crop now.` });
  };
  const restyle = (kind: string, style: object) => {
    const contents = new Map<string, Content>();
    for (const r of rows)
      if (r.content.figures.some((f) => f.marks.some((m) => m.kind === kind)))
        contents.set(r.id, { ...r.content, figures: r.content.figures.map((f) => core.restyle(f, kind, style)) });
    onChangeAll?.("Apply a style to all", contents);
  };
  return (
    <div className="grid min-h-[calc(100dvh-3rem)] grid-cols-[13.4rem_minmax(0,1fr)]">
      <aside aria-label="Marks" className="sticky top-12 h-[calc(100dvh-3rem)] space-y-4 overflow-y-auto p-3">
        {renewal?.walking && renew}
        <Pad tool={view?.tool} onChoose={(tool, keep) => take(stage.choose(tool, keep))} />
        {view?.crop && <CropPanel view={view} onTake={take} />}
        {view?.tool === "cutout" && <p className="text-sm">Draw around what is to stay.</p>}
        {view?.tool === "fold" && <p className="text-sm">Drag over the band to fold away.</p>}
        {view && view.chosen.length > 1 && <Several count={view.chosen.length} onTake={take} />}
        {view?.selected && (["text", "note", "marker"] as string[]).includes(view.selected.kind) && (
          <label className="block">
            <span className="text-sm text-soft">{view.selected.kind === "marker" ? "What it marks" : "Words"}</span>
            <textarea
              ref={editor}
              data-words
              rows={view.selected.kind === "marker" ? 1 : 3}
              value={view.selected.text ?? ""}
              placeholder="Type the words"
              onChange={(e) => take(stage.text(e.target.value), "Write in a picture")}
              className="w-full rounded border border-soft bg-paper px-2 py-1"
            />
          </label>
        )}
        {view && <Styles view={view} marks={figure?.marks ?? []} onTake={take} onAll={onChangeAll && restyle} />}
        {view && <MarkList view={view} onTake={take} />}
        {figure && picture && size && <Known figure={figure} taken={taken} view={view} onTake={take} />}
        {figure && view && (
          <PicturePanel
            figure={figure}
            view={view}
            take={take}
            onInset={() => setInsetting(true)}
            onSameCrop={onChangeAll && rows.length > 1 ? sameCrop : undefined}
          />
        )}
        {figure && size && <Secrets figure={figure} rows={rows} onTake={take} onChangeAll={onChangeAll} />}
        {!renewal?.walking && renew}
        {figure && <Finished figure={figure} first={first} name={picture?.name ?? "picture"} />}
        {figure && (
          <label className="block">
            <span className="text-sm text-soft">Description, for those who can’t see it</span>
            <textarea
              rows={3}
              maxLength={2000}
              value={figure.alt}
              onChange={(e) => change("Describe a picture", { alt: e.target.value })}
              className="w-full rounded border border-soft bg-paper px-2 py-1 text-sm"
            />
          </label>
        )}
      </aside>
      <main className="min-w-0 bg-paper px-4 py-2">
        {slim(0, position)}
        <div className="my-1 flex items-baseline gap-3 border-t border-line pt-2">
          {onChangeAll && <span className="text-xl font-bold">{number}</span>}
          <div className="line-clamp-2 min-w-0 flex-1">
            <WordsView words={row.content.words} markers={tags} />
          </div>
          <Button look="quiet" className="-my-1" onClick={onFold}>
            {onChangeAll ? "Fold" : "Close"}
          </Button>
        </div>
        {figure && onChangeAll && <HandedOut key={figure.id + figure.shot} figure={figure} />}
        <div className="mb-1.5 flex min-h-9 items-center gap-3">
          <div className="min-w-0 flex-1">
            {view && view.chosen.length > 0 ? (
              <Strip view={view} marks={figure?.marks ?? []} onTake={take} />
            ) : (
              <p className="text-sm text-soft">{hint(view?.tool)}</p>
            )}
          </div>
          {zoom.k > 1 && (
            <span className="flex items-center gap-1 text-sm">
              {Math.round(zoom.k * 100)} %
              <Button small onClick={zoom.fit}>
                Fit
              </Button>
            </span>
          )}
          {zoom.k === 1 && oneToOne(view) > 1.05 && (
            <Button small onClick={() => zoom.to(oneToOne(view))}>
              1 : 1
            </Button>
          )}
        </div>
        {view && picture && size && (
          <Canvas
            pixels={pixels}
            view={view}
            zoom={zoom}
            onView={take}
            label={`Picture of step ${number}. Choose from the pad, then drag, or press Enter to place`}
          />
        )}
        {row.content.figures.length > 1 && (
          <p className="mt-2 flex gap-2">
            {row.content.figures.map((f, i) => (
              <Button key={f.id} disabled={f.id === figureID} onClick={() => props.onUnfold(row.id, f.id)}>
                Picture {i + 1}
              </Button>
            ))}
          </p>
        )}
        {slim(position + 1, rows.length)}
      </main>
      {insetting && view && <InsetDialog view={view} onTake={take} onDone={() => setInsetting(false)} />}
    </div>
  );
}

const hint = (tool: string | undefined) => {
  switch (tool) {
    case undefined:
    case "":
      return "Choose from the pad, or click a mark. Copy puts the finished picture on the clipboard.";
    case "crop":
      return "Drag the frame, or its corners. Enter crops.";
    case "marker":
      return "Click where it belongs.";
    case "note":
      return "Press on what it is about, and drag to where the words go.";
    case "loupe":
      return "Drag over the detail to enlarge.";
    case "pen":
      return "Draw. Shift draws straight.";
    case "light":
      return "Drag over what matters; the rest is dimmed.";
    case "concealment":
      return "Drag over what nobody may see. It is gone from every finished picture.";
    default:
      return "Drag on the picture. Shift steadies, Alt frees from snapping.";
  }
};
