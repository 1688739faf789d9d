import { useState } from "react";
import type { Figure } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import type { Seen } from "./useStage";
import { Actions, Button } from "../../base/ui/controls";
import { NumberField, Pick } from "./fields";

type Props = {
  figure: Figure;
  view: Seen;
  take: (view: View, label?: string) => void;
  /** Gives the other pictures of the document, of shots of the same size, this crop. */
  onSameCrop?: () => void;
  onInset: () => void;
};

/** How the picture itself is shown: all of it can be taken back. */
export function PicturePanel({ figure, view, take, onSameCrop, onInset }: Props) {
  const stage = useStageCore();
  const [open, setOpen] = useState(false);
  const look = (patch: object, label: string) => take(stage.look(patch), label);
  const choose = (tool: string) => take(stage.choose(tool, false));
  const margin = figure.margin;
  const even = margin ? Math.max(margin.top, margin.right, margin.bottom, margin.left) : 0;
  const changed = Boolean(
    figure.crop ||
    figure.quarter ||
    figure.mirror ||
    figure.tilt ||
    figure.folds?.length ||
    margin ||
    figure.width ||
    figure.edge?.look ||
    figure.edge?.open ||
    figure.tone?.look ||
    figure.tone?.light ||
    figure.recolours?.length,
  );
  const size = `${Math.round(view.frame.w)} by ${Math.round(view.frame.h)}`;
  return (
    <section aria-label="Picture" className="space-y-2">
      <p className="text-sm">
        {changed ? `${size} of ${view.whole.w} by ${view.whole.h}` : `Whole shot, ${view.whole.w} by ${view.whole.h}`}
      </p>
      {changed && (
        <Button small onClick={() => take(stage.wholeShot(), "Back to the whole shot")}>
          Back to the whole shot
        </Button>
      )}
      <div className="flex flex-wrap gap-1">
        <Button small onClick={() => look({ turn: 1 }, "Turn a picture")}>
          Turn
        </Button>
        <Button small onClick={() => look({ flip: true }, "Mirror a picture")}>
          Mirror
        </Button>
        <Actions
          label="More for this picture"
          className="rounded border border-line bg-paper px-2 py-0.5 text-sm hover:border-soft"
          choices={[
            { label: "Light on a part, dim the rest", run: () => choose("light") },
            { label: "Cover with the colour around", run: () => choose("patch") },
            { label: "Fold a band away", run: () => choose("fold") },
            { label: "Crop freehand", run: () => choose("cutout") },
            { label: "Set in another shot", run: onInset },
            ...(figure.folds?.length
              ? [{ label: "Take the folds back", run: () => look({ unfold: true }, "Take the folds back") }]
              : []),
            ...(onSameCrop && figure.crop ? [{ label: "Same crop for the others", run: onSameCrop }] : []),
          ]}
        >
          More …
        </Actions>
      </div>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="rounded px-1 py-0.5 text-sm text-action hover:bg-paper"
      >
        {open ? "Hide edges, tone and size" : "Edges, tone and size"}
      </button>
      {open && (
        <div className="space-y-2">
          <NumberField
            label="Straighten, °"
            value={figure.tilt ?? 0}
            min={-45}
            max={45}
            step={0.5}
            onChange={(tilt) => look({ tilt }, "Straighten a picture")}
          />
          <div className="flex flex-wrap gap-1">
            <Pick
              label="Edge"
              value={figure.edge?.look}
              options={{ "": "Plain edge", hairline: "Hairline", rounded: "Rounded", faded: "Faded" }}
              onPick={(l) => look({ edge: { ...figure.edge, look: l } }, "Change the edges")}
            />
            <Pick
              label="Tone"
              value={figure.tone?.look}
              options={{ "": "As it is", grey: "Shades of grey", mono: "Black and white", inverted: "Inverted" }}
              onPick={(l) => look({ tone: { ...figure.tone, look: l } }, "Change the tone")}
            />
          </div>
          <OpenSides figure={figure} look={look} />
          <label className="block text-sm">
            <span className="text-soft">Darker or lighter</span>
            <input
              type="range"
              min={-80}
              max={80}
              step={5}
              value={figure.tone?.light ?? 0}
              onChange={(e) => look({ tone: { ...figure.tone, light: e.target.valueAsNumber } }, "Change the tone")}
              className="w-full"
            />
          </label>
          <NumberField
            label="Margin"
            value={even}
            min={0}
            max={4000}
            step={20}
            onChange={(m) => look({ margin: { top: m, right: m, bottom: m, left: m } }, "Add a margin")}
          />
          <div role="group" aria-label="Room to write at one side" className="flex flex-wrap gap-1">
            <span className="w-full text-sm text-soft">Room to write</span>
            {(["top", "right", "bottom", "left"] as const).map((side) => (
              <Button
                key={side}
                small
                aria-label={`Room to write: ${side}`}
                className="capitalize"
                onClick={() =>
                  look(
                    {
                      margin: {
                        ...(margin ?? { top: 0, right: 0, bottom: 0, left: 0 }),
                        [side]: (margin?.[side] ?? 0) + Math.round(view.frame.w / 5),
                      },
                    },
                    "Add a margin",
                  )
                }
              >
                {side}
              </Button>
            ))}
          </div>
          <NumberField
            label="Width in pixels"
            value={figure.width || Math.round(view.frame.w)}
            min={16}
            max={16384}
            onChange={(width) => look({ width }, "Scale a picture")}
          />
        </div>
      )}
    </section>
  );
}

const sides = { n: "top", e: "right", s: "bottom", w: "left" };

/** The sides that are drawn as going on: by the crop, or chosen. */
function OpenSides({ figure, look }: { figure: Figure; look: (patch: object, label: string) => void }) {
  const open = figure.edge?.open ?? "";
  const set = (value: string) => look({ edge: { ...figure.edge, open: value } }, "Change the open edges");
  return (
    <fieldset className="text-sm">
      <legend className="text-soft">Shown as going on</legend>
      <label className="mr-3 inline-flex min-h-7 items-center gap-1.5">
        <input type="checkbox" checked={open === "auto"} onChange={(e) => set(e.target.checked ? "auto" : "")} />
        where it is cropped
      </label>
      {open !== "auto" &&
        Object.entries(sides).map(([side, name]) => (
          <label key={side} className="mr-3 inline-flex min-h-7 items-center gap-1.5">
            <input
              type="checkbox"
              checked={open.includes(side)}
              onChange={(e) => set(e.target.checked ? open + side : open.replace(side, ""))}
            />
            {name}
          </label>
        ))}
    </fieldset>
  );
}
