import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type Figure, type Taken } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import { Actions, Button } from "../../base/ui/controls";

/** What the capture knows and can be marked with one action: the clicked element, what changed, the pointer. */
export function Known(props: {
  figure: Figure;
  taken: Taken | undefined;
  onTake: (view: View, label?: string) => void;
}) {
  const stage = useStageCore();
  const { figure, taken, onTake } = props;
  const changed = useQuery({
    ...ask("/api/shots/{shot}/changed", { path: { shot: figure.shot } }),
    enabled: taken?.capture !== undefined,
    staleTime: Infinity,
  }).data;
  const clicked = taken?.about.action?.element;
  const pointer = taken?.about.pointer;
  const pointerMark = figure.marks.find((m) => m.kind === "pointer");
  const some = changed && changed.length > 0;
  if (!clicked && !some && !(pointer && !pointer.drawn)) return null;
  return (
    <section aria-label="Known from the capture" className="space-y-1">
      <h2 className="text-sm text-soft">Known from the capture</h2>
      <div className="flex flex-wrap gap-1">
        {clicked && (
          <Button
            small
            title={clicked.name}
            onClick={() => onTake(stage.boxAround([clicked.rect]), "Box the clicked element")}
          >
            Box what was clicked
          </Button>
        )}
        {some && (
          <Actions
            label="What changed"
            className="rounded border border-line bg-paper px-2 py-0.5 text-sm hover:border-soft"
            choices={[
              { label: "Box what changed", run: () => onTake(stage.boxAround(changed), "Box what changed") },
              { label: "Number what changed", run: () => onTake(stage.numberEach(changed), "Number what changed") },
              { label: "Crop to what changed", run: () => onTake(stage.cropTo(changed), "Crop to what changed") },
            ]}
          >
            What changed …
          </Actions>
        )}
        {pointer && !pointer.drawn && (
          <Button
            small
            onClick={() =>
              onTake(
                stage.showPointer({ x: pointer.x, y: pointer.y }),
                pointerMark ? "Hide the pointer" : "Show the pointer",
              )
            }
          >
            {pointerMark ? "Hide the pointer" : "Show the pointer"}
          </Button>
        )}
      </div>
    </section>
  );
}
