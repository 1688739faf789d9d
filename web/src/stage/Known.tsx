import { useQuery } from "@tanstack/react-query";
import { api, expect, type Figure, type Mark, type Rect, type Taken } from "../api/client";
import { stage, type View } from "../core/core";
import { Actions, Button } from "../ui/controls";

/** What the capture knows and can be marked with one action: the clicked element, what changed, the pointer. */
export function Known(props: {
  figure: Figure;
  taken: Taken | undefined;
  view: View | undefined;
  onTake: (view: View, label?: string) => void;
}) {
  const { figure, taken, view, onTake } = props;
  const changed = useQuery({
    queryKey: ["changed", figure.shot],
    enabled: taken?.capture !== undefined,
    queryFn: () => expect(api.GET("/api/shots/{shot}/changed", { params: { path: { shot: figure.shot } } })),
    staleTime: Infinity,
  }).data;
  const clicked = taken?.about.action?.element;
  const pointer = taken?.about.pointer;
  const put = (mark: Partial<Mark>, label: string) => onTake(stage.put(mark), label);
  const corners = (r: Rect, by: number) => [
    { x: r.x - by, y: r.y - by },
    { x: r.x + r.w + by, y: r.y + r.h + by },
  ];
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
            onClick={() => put({ kind: "box", points: corners(clicked.rect, 6) }, "Box the clicked element")}
          >
            Box what was clicked
          </Button>
        )}
        {some && (
          <Actions
            label="What changed"
            className="rounded border border-line bg-paper px-2 py-0.5 text-sm hover:border-soft"
            choices={[
              {
                label: "Box what changed",
                run: () => changed.forEach((r) => put({ kind: "box", points: corners(r, 6) }, "Box what changed")),
              },
              {
                label: "Number what changed",
                run: () =>
                  changed.forEach((r) =>
                    put({ kind: "marker", points: [{ x: r.x - 4, y: r.y + r.h / 2 }] }, "Number what changed"),
                  ),
              },
              {
                label: "Crop to what changed",
                run: () => {
                  const x0 = Math.min(...changed.map((r) => r.x));
                  const y0 = Math.min(...changed.map((r) => r.y));
                  const x1 = Math.max(...changed.map((r) => r.x + r.w));
                  const y1 = Math.max(...changed.map((r) => r.y + r.h));
                  const room = 40;
                  onTake(stage.choose("crop", false));
                  onTake(
                    stage.setCrop({ x: x0 - room, y: y0 - room, w: x1 - x0 + 2 * room, h: y1 - y0 + 2 * room }, 0),
                  );
                  onTake(stage.applyCrop(), "Crop to what changed");
                },
              },
            ]}
          >
            What changed …
          </Actions>
        )}
        {pointer && !pointer.drawn && (
          <Button
            small
            onClick={() => {
              if (!pointerMark) {
                put({ kind: "pointer", points: [{ x: pointer.x, y: pointer.y }] }, "Show the pointer");
                return;
              }
              onTake(stage.select(pointerMark.id));
              onTake(stage.remove(), "Hide the pointer");
            }}
          >
            {pointerMark ? "Hide the pointer" : "Show the pointer"}
          </Button>
        )}
      </div>
      {view?.selected?.kind === "pointer" && <p className="text-sm text-soft">Its weight makes it larger.</p>}
    </section>
  );
}
