import { useEffect } from "react";
import { X } from "lucide-react";
import type { Figure } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { useStageCore } from "./core";
import { Pick } from "./fields";
import type { Pixels } from "./paint";
import { colourAt } from "./useColours";
import type { Seen } from "./useStage";

type Recolour = NonNullable<Figure["recolours"]>[number];

const most = 12;
const near = 8; // percent, that letters with soft edges go along

/** Colours of the picture that become others, or transparent: taken from it by a press, or written. */
export function Colours(props: {
  figure: Figure;
  view: Seen;
  pixels: Pixels;
  take: (view: View, label?: string) => void;
}) {
  const { figure, view, pixels, take } = props;
  const stage = useStageCore();
  const notice = useNotice();
  const all = figure.recolours ?? [];
  const set = (recolours: Recolour[]) => take(stage.look({ recolours }), "Change colours");
  const change = (i: number, part: Partial<Recolour>) => set(all.map((r, j) => (j === i ? { ...r, ...part } : r)));
  const { picked } = view;
  useEffect(() => {
    if (!picked) return;
    colourAt(pixels(figure.shot).href, picked.x, picked.y).then(
      (from) => set([...all, { from, near, at: picked, to: from }]),
      () => notice({ text: "The picture is not there yet. Try again in a moment." }),
    );
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each press that takes a colour
  }, [picked]);
  const taking = view.tool === "colour";
  return (
    <section aria-label="Colours" className="space-y-2 text-sm">
      {all.map((r, i) => (
        <fieldset key={i} className="space-y-1 border border-line bg-paper p-2">
          <legend className="sr-only">Colour {i + 1}</legend>
          <div className="flex items-center gap-1.5">
            <Swatch label={`Colour ${i + 1}`} value={r.from} onChange={(from) => change(i, { from })} />
            <span>becomes</span>
            {r.to ? (
              <Swatch label={`What colour ${i + 1} becomes`} value={r.to} onChange={(to) => change(i, { to })} />
            ) : (
              <span>transparent</span>
            )}
            <button
              type="button"
              aria-label={`Leave colour ${i + 1} as it was`}
              onClick={() => set(all.filter((_, j) => j !== i))}
              className="ml-auto rounded p-1 text-soft hover:bg-desk hover:text-ink"
            >
              <X size={16} aria-hidden />
            </button>
          </div>
          <label className="flex min-h-7 items-center gap-1.5">
            <input
              type="checkbox"
              checked={!r.to}
              onChange={(e) => change(i, { to: e.target.checked ? undefined : r.from })}
            />
            transparent
          </label>
          <label className="block">
            <span className="text-soft">How near counts: {r.near ?? 0} %</span>
            <input
              type="range"
              min={0}
              max={100}
              value={r.near ?? 0}
              onChange={(e) => change(i, { near: e.target.valueAsNumber })}
              className="w-full"
            />
          </label>
          {r.at && (
            <Pick<"here" | "all">
              label={`Where colour ${i + 1} changes`}
              value="here"
              options={{ here: "where it hangs together", all: "all over" }}
              onPick={() => change(i, { at: undefined })}
            />
          )}
          {!r.at && <p className="text-soft">all over</p>}
        </fieldset>
      ))}
      {all.length < most && (
        <Button small aria-pressed={taking} onClick={() => take(stage.choose(taking ? "" : "colour", false))}>
          Take a colour from the picture
        </Button>
      )}
      {taking && <p role="status">Press on the colour that becomes another.</p>}
    </section>
  );
}

const Swatch = (props: { label: string; value: string; onChange: (value: string) => void }) => (
  <input
    type="color"
    aria-label={props.label}
    title={`${props.label}: ${props.value}`}
    value={props.value}
    onChange={(e) => props.onChange(e.target.value)}
    className="h-7 w-10 rounded border border-soft"
  />
);
