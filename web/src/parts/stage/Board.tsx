import type { Figure } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { Canvas } from "./Canvas";
import { hint } from "./hint";
import type { Painting } from "./painting";
import { Strip } from "./Strip";
import { oneToOne } from "./useStageKeys";
import type { Seen } from "./useStage";
import type { Zoom } from "./useZoom";

/** The picture to draw on, and above it the looks of what is chosen, or what to do. */
export function Board(props: {
  view: Seen;
  figure: Figure;
  painting: Painting;
  zoom: Zoom;
  label: string;
  /** Copying puts the finished picture on the clipboard. */
  copies: boolean;
  /** It leaves room for what stands below it. */
  low?: boolean;
  take: (view: View, label?: string) => void;
}) {
  const { view, zoom, take } = props;
  return (
    <>
      <div className="relative mb-1.5 flex h-9 items-center gap-3">
        <div className="min-w-0 flex-1">
          {view.chosen.length > 0 ? (
            // What needs two lines floats over the picture, which stays where it is.
            <div className="absolute inset-x-0 top-0 z-10 flex min-h-9 items-center bg-paper pr-28">
              <Strip view={view} marks={props.figure.marks} onTake={take} />
            </div>
          ) : (
            <p className="text-sm text-soft">
              {view.full
                ? "This picture has 500 marks, as many as it can have. Delete some first."
                : hint(view.tool, props.copies)}
            </p>
          )}
        </div>
        {zoom.k > 1 && (
          <span className="z-20 flex items-center gap-1 text-sm">
            {Math.round(zoom.k * 100)} %
            <Button small onClick={zoom.fit}>
              Fit
            </Button>
          </span>
        )}
        {zoom.k === 1 && oneToOne(view) > 1.05 && (
          <Button small className="z-20" onClick={() => zoom.to(oneToOne(view))}>
            1 : 1
          </Button>
        )}
      </div>
      <Canvas painting={props.painting} view={view} zoom={zoom} onView={take} label={props.label} low={props.low} />
    </>
  );
}
