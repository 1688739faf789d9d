import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Mark, StepContent } from "../api/client";
import { core, fetchFaces, stage, type View } from "../core/core";
import { type Row, same, tidy } from "../manuscript/model";
import type { Picture } from "../manuscript/picture";
import { Button } from "../ui/controls";
import { WordsView } from "../words/WordsView";
import { Canvas } from "./Canvas";
import { pad, useKeyLabels } from "./pad";

type Props = {
  rows: Row[];
  row: Row;
  figureID: string;
  picture: (shot: string) => Picture;
  onChange: (label: string, content: StepContent) => void;
  onUnfold: (step: string, figure: string) => void;
  onFold: () => void;
};

/** Of the steps above, the nearest are seen. */
const toEnd = (list: HTMLElement | null) => list?.scrollTo(0, list.scrollHeight);

const clip = "application/x.raconte.mark+json";
const weights = ["fine", "medium", "strong"] as const;
const typing = (target: EventTarget | null) =>
  (target as HTMLElement | null)?.matches?.("input, textarea, [contenteditable=true]") ?? false;

/** A picture unfolded in place; the other steps are slim lines, the left column is the pad. */
export function Stage(props: Props) {
  const { rows, row, figureID, onChange, onFold } = props;
  const number = rows.indexOf(row) + 1;
  const place = row.content.figures.findIndex((f) => f.id === figureID);
  const figure = row.content.figures[place];
  const picture = figure && props.picture(figure.shot);
  const first = useMemo(() => core.firsts(row.content.figures)[place] ?? 1, [row.content.figures, place]);
  const size = picture?.size;
  const [view, setView] = useState<View>();
  const shown = useRef(figure);
  const editor = useRef<HTMLTextAreaElement>(null);
  const tags = useMemo(() => core.tags(row.content.figures), [row.content.figures]);
  const keyLabel = useKeyLabels();

  // The newest of what the page says, for handlers that live longer than a render.
  const now = useRef({ row, place, onChange });
  useLayoutEffect(() => {
    now.current = { row, place, onChange };
  });

  const take = useCallback((next: View, label = "Mark up a picture") => {
    setView(next);
    if (!next.figure) return;
    const done = tidy(next.figure);
    shown.current = done;
    const { row, place, onChange } = now.current;
    onChange(label, {
      ...row.content,
      figures: row.content.figures.map((f, i) => (i === place ? { ...done, alt: f.alt } : f)),
    });
  }, []);

  const width = size?.w;
  const height = size?.h;
  const id = figure?.id;
  // Open the figure; again when it changed from outside, by an undo or a colleague. In the layout phase: later,
  // a drag that ends could have moved on from the figure that this still holds, and would be undone by it.
  const open = useRef("");
  useLayoutEffect(() => {
    if (!figure || !id || !width || !height) return;
    if (open.current === `${id} ${first}` && same(drawn(figure), drawn(shown.current))) return;
    open.current = `${id} ${first}`;
    shown.current = figure;
    const opened = stage.open({ figure, shot: { w: width, h: height }, first });
    setView(opened.shapes.length < figure.marks.length ? stage.redraw() : opened);
  }, [figure, id, width, height, first]);

  const words = figure?.marks.map((m) => m.text ?? "").join("") ?? "";
  useEffect(() => {
    if (words) void fetchFaces(words).then((got) => got && setView(stage.redraw()));
  }, [words]);

  const writes = view?.typing;
  useEffect(() => {
    if (writes) editor.current?.focus();
  }, [writes]);

  // Before the picture is seen, so that no key pressed on seeing it is lost.
  useLayoutEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key === "Escape" && typing(e.target)) {
        (e.target as HTMLElement).blur();
        return;
      }
      if (typing(e.target) || e.ctrlKey || e.metaKey) return;
      const arrows: Record<string, [number, number]> = {
        ArrowLeft: [-1, 0],
        ArrowRight: [1, 0],
        ArrowUp: [0, -1],
        ArrowDown: [0, 1],
      };
      const arrow = arrows[e.key];
      const onStage = (e.target as HTMLElement).closest("[role=application]") !== null || e.target === document.body;
      const tool = pad.find((p) => p?.[0] === e.code);
      if (tool && !e.altKey) take(stage.choose(tool[1], e.shiftKey));
      else if (e.key === "Escape") {
        const v = stage.cancel();
        if (view && same([v.tool, v.selected?.id, v.order], [view.tool, view.selected?.id, view.order]) && !v.tool)
          onFold();
        else take(v);
      } else if (arrow && onStage) {
        const by = e.shiftKey ? 10 : 1;
        take(stage.nudge({ x: arrow[0] * by, y: arrow[1] * by }, e.altKey), "Nudge a mark");
      } else if ((e.key === "Delete" || e.key === "Backspace") && onStage) take(stage.remove(), "Delete a mark");
      else if (e.key === "Enter" && onStage && view?.tool) take(stage.place());
      else if (e.key === "Enter" && onStage && view?.selected?.kind === "text") editor.current?.focus();
      else return;
      e.preventDefault();
    };
    const copy = (e: ClipboardEvent) => {
      const mark = typing(e.target) ? null : stage.chosen();
      if (!mark || !e.clipboardData) return;
      e.clipboardData.setData(clip, JSON.stringify(mark));
      e.preventDefault();
      if (e.type === "cut") take(stage.remove(), "Cut a mark");
    };
    const paste = (e: ClipboardEvent) => {
      const text = typing(e.target) ? "" : e.clipboardData?.getData(clip);
      if (!text) return;
      e.preventDefault();
      take(stage.paste(JSON.parse(text) as Mark), "Paste a mark");
    };
    addEventListener("keydown", key);
    addEventListener("copy", copy);
    addEventListener("cut", copy);
    addEventListener("paste", paste);
    return () => {
      removeEventListener("keydown", key);
      removeEventListener("copy", copy);
      removeEventListener("cut", copy);
      removeEventListener("paste", paste);
    };
  }, [take, onFold, view]);

  const line = (r: Row, i: number) => (
    <li key={r.id}>
      <button
        type="button"
        disabled={r.content.figures.length === 0}
        onClick={() => props.onUnfold(r.id, r.content.figures[0]?.id ?? "")}
        className="flex w-full gap-3 rounded px-2 py-1 text-left text-soft enabled:hover:bg-desk"
      >
        <span className="w-6 shrink-0 text-right font-bold">{i + 1}</span>
        <span className="truncate">{core.label(r)}</span>
      </button>
    </li>
  );
  const slim = (from: number, to: number) => (
    <ol start={from + 1} ref={from === 0 ? toEnd : undefined} className={from === 0 ? "max-h-16 overflow-y-auto" : ""}>
      {rows.slice(from, to).map((r, i) => line(r, from + i))}
    </ol>
  );
  const selected = view?.selected;
  return (
    <div className="grid min-h-[calc(100dvh-3rem)] grid-cols-[12.4rem_minmax(0,1fr)]">
      <aside aria-label="Marks" className="sticky top-12 h-[calc(100dvh-3rem)] space-y-4 overflow-y-auto p-3">
        <div className="grid grid-cols-4 gap-1" role="toolbar" aria-label="Pad: choose what to draw">
          {pad.map((p, i) =>
            p ? (
              <button
                key={p[0]}
                type="button"
                aria-pressed={view?.tool === p[1]}
                title={`${p[2]}. Shift keeps it for more than one`}
                onClick={(e) => take(stage.choose(p[1], e.shiftKey))}
                className={`rounded border px-0.5 py-1.5 text-center ${view?.tool === p[1] ? "border-action bg-action text-paper" : "border-line bg-paper hover:border-soft"}`}
              >
                <span className="block font-mono text-sm leading-4">{keyLabel(p[0])}</span>
                <span className="block text-[0.72rem] leading-4">{p[2]}</span>
              </button>
            ) : (
              <span key={i} />
            ),
          )}
        </div>
        {view?.crop && (
          <section aria-label="Crop">
            <p className="text-sm text-soft">
              {Math.round(view.crop.w)} by {Math.round(view.crop.h)} of {size?.w} by {size?.h} pixels
            </p>
            <div className="mt-2 flex gap-2">
              <Button look="main" onClick={() => take(stage.applyCrop(), "Crop a picture")}>
                Crop
              </Button>
              <Button onClick={() => take(stage.cancel())}>Cancel</Button>
            </div>
          </section>
        )}
        {selected && (
          <section aria-label="The chosen mark" className="space-y-3">
            {selected.kind === "text" && (
              <label className="block">
                <span className="text-sm text-soft">Words</span>
                <textarea
                  ref={editor}
                  rows={3}
                  value={selected.text ?? ""}
                  placeholder="Type the words"
                  onChange={(e) => take(stage.text(e.target.value), "Write in a picture")}
                  className="w-full rounded border border-soft bg-paper px-2 py-1"
                />
              </label>
            )}
            <div role="group" aria-label="Ink" className="flex gap-1.5">
              {core.inks().map((ink) => (
                <button
                  key={ink.name}
                  type="button"
                  aria-label={ink.name}
                  aria-pressed={selected.ink === ink.name}
                  title={ink.name}
                  onClick={() => take(stage.ink(ink.name), "Change the ink")}
                  className={`size-6 rounded ${selected.ink === ink.name ? "ring-2 ring-ink ring-offset-2 ring-offset-desk" : ""}`}
                  style={{ background: ink.color }}
                />
              ))}
            </div>
            <div role="group" aria-label="Weight" className="flex">
              {weights.map((w) => (
                <button
                  key={w}
                  type="button"
                  aria-pressed={selected.weight === w}
                  onClick={() => take(stage.weight(w), "Change the weight")}
                  className={`border px-2 py-1 text-sm capitalize first:rounded-l last:rounded-r ${selected.weight === w ? "border-action bg-action text-paper" : "border-line bg-paper"}`}
                >
                  {w}
                </button>
              ))}
            </div>
            <div className="flex gap-1">
              <Button
                className="px-2"
                aria-label="Bring forward"

                onClick={() => take(stage.raise(1), "Bring a mark forward")}
              >
                <ArrowUp size={16} aria-hidden />
              </Button>
              <Button
                className="px-2"
                aria-label="Send back"

                onClick={() => take(stage.raise(-1), "Send a mark back")}
              >
                <ArrowDown size={16} aria-hidden />
              </Button>
              <Button
                className="px-2"
                aria-label="Delete mark"
                title="Delete"
                onClick={() => take(stage.remove(), "Delete a mark")}
              >
                <Trash2 size={16} aria-hidden />
              </Button>
            </div>
          </section>
        )}
        {view && (
          <section>
            <h2 className="mb-1 text-sm text-soft">In this picture</h2>
            {view.list.length === 0 && (
              <p className="text-sm">Nothing yet. Press a key of the pad, then drag on the picture.</p>
            )}
            <ul>
              {view.list.map((entry) => (
                <li key={entry.id}>
                  <button
                    type="button"
                    aria-pressed={selected?.id === entry.id}
                    onClick={() => take(stage.select(entry.id))}
                    className={`w-full truncate rounded px-2 py-1 text-left text-sm ${selected?.id === entry.id ? "bg-paper font-bold" : "hover:bg-paper"}`}
                  >
                    {entry.name}
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
        {figure && size && (
          <section className="space-y-2">
            <h2 className="text-sm text-soft">Picture</h2>
            <p className="text-sm">
              {figure.crop
                ? `${Math.round(figure.crop.w)} by ${Math.round(figure.crop.h)} of ${size.w} by ${size.h}`
                : `Whole shot, ${size.w} by ${size.h}`}
            </p>
            {figure.crop && (
              <Button className="px-2 text-sm" onClick={() => take(stage.wholeShot(), "Back to the whole shot")}>
                Back to the whole shot
              </Button>
            )}
            <label className="block">
              <span className="text-sm text-soft">Description, for those who can’t see it</span>
              <textarea
                rows={3}
                maxLength={2000}
                value={figure.alt}
                onChange={(e) =>
                  onChange("Describe a picture", {
                    ...row.content,
                    figures: row.content.figures.map((f) => (f.id === figure.id ? { ...f, alt: e.target.value } : f)),
                  })
                }
                className="w-full rounded border border-soft bg-paper px-2 py-1 text-sm"
              />
            </label>
          </section>
        )}
      </aside>
      <main className="min-w-0 bg-paper px-4 py-2">
        {slim(0, number - 1)}
        <div className="my-1 flex items-baseline gap-3 border-t border-line pt-2">
          <span className="text-xl font-bold">{number}</span>
          <div className="line-clamp-2 min-w-0 flex-1">
            <WordsView words={row.content.words} markers={tags} />
          </div>
          <Button look="quiet" className="-my-1" onClick={onFold}>
            Fold
          </Button>
        </div>
        {view && picture && size && (
          <Canvas
            picture={picture}
            size={size}
            view={view}
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
        {slim(number, rows.length)}
      </main>
    </div>
  );
}

const drawn = (f: { crop?: unknown; marks: Mark[] } | undefined) => f && [f.crop, f.marks];
