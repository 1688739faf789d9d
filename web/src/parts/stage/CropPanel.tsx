import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import type { Seen } from "./useStage";
import { Button } from "../../base/ui/controls";
import { NumberField, Pick } from "./fields";

const ratios = { "0": "Any ratio", "1": "1 : 1", "1.3333": "4 : 3", "1.6": "16 : 10", "1.7778": "16 : 9" };

/** The crop in numbers, while it is chosen. */
export function CropPanel({ view, onTake }: { view: Seen; onTake: (view: View, label?: string) => void }) {
  const stage = useStageCore();
  const crop = view.crop;
  if (!crop) return null;
  const ratio = view.ratio ?? 0;
  const change = (part: object) => onTake(stage.setCrop({ ...crop, ...part }, ratio));
  return (
    <section aria-label="Crop" className="space-y-2">
      <p className="text-sm text-soft">
        {Math.round(crop.w)} by {Math.round(crop.h)} of {view.whole.w} by {view.whole.h} pixels
      </p>
      <div className="grid grid-cols-2 gap-1">
        <NumberField
          label="W"
          value={Math.round(crop.w)}
          min={8}
          max={view.whole.w}
          onChange={(w) => change(ratio ? { w, h: w / ratio } : { w })}
        />
        <NumberField
          label="H"
          value={Math.round(crop.h)}
          min={8}
          max={view.whole.h}
          onChange={(h) => change(ratio ? { h, w: h * ratio } : { h })}
        />
      </div>
      <Pick
        label="Ratio"
        value={Object.keys(ratios).find((r) => Math.abs(Number(r) - ratio) < 0.01) ?? "0"}
        options={ratios}
        onPick={(r) => onTake(stage.setCrop(crop, Number(r)))}
      />
      <div className="flex flex-wrap gap-2">
        <Button look="main" onClick={() => onTake(stage.applyCrop(), "Crop a picture")}>
          Crop
        </Button>
        <Button onClick={() => onTake(stage.cancel())}>Cancel</Button>
        <Button className="text-sm" onClick={() => onTake(stage.choose("cutout", false))}>
          Freehand instead
        </Button>
      </div>
    </section>
  );
}
