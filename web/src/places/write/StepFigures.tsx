import { Ellipsis } from "lucide-react";
import { useContext } from "react";
import type { Figure } from "../../base/api/client";
import type { Numbers } from "../../base/core/core";
import { Actions, Button, type Choice } from "../../base/ui/controls";
import { Pinned } from "../../parts/comments/commenting";
import { Redrawn } from "../../parts/comments/Redrawn";
import type { Row } from "../../parts/document/model";
import { useDesk } from "./desk";
import { FigureView } from "./FigureView";
import { nameOf } from "./stepName";

/** The pictures of a step, between those of the steps above and below. */
export function StepFigures(props: {
  row: Row;
  above: string | undefined;
  below: string | undefined;
  numbers: Numbers;
}) {
  const { row, above, below, numbers } = props;
  const { actions, pictureOf } = useDesk();
  const { threads } = useContext(Pinned);
  return (
    <div className="space-y-2">
      {row.content.figures.map((f, i) => {
        const picture = pictureOf(f.shot);
        const moves: Choice[] = [
          { label: "Mark the picture", run: () => actions.open(f.id) },
          ...(above
            ? [{ label: "Move the picture to the step above", run: () => actions.merge(row.id, f.id, above) }]
            : []),
          ...(below
            ? [{ label: "Move the picture to the step below", run: () => actions.merge(row.id, f.id, below) }]
            : []),
          "line",
          { label: "Delete the picture", run: () => actions.dropPicture(row.id, f.id), danger: true },
        ];
        const name = `picture${row.content.figures.length > 1 ? ` ${i + 1}` : ""} of ${nameOf(row, numbers)}`;
        const drawn = (figure: Figure, label: string, onOpen: () => void) => (
          <FigureView
            figure={figure}
            picture={pictureOf}
            first={numbers.markers[f.id] ?? 1}
            label={label}
            onOpen={onOpen}
          />
        );
        return (
          <div key={f.id} className="group relative">
            <Redrawn figure={f} threads={threads} draw={(look) => drawn(look, "Suggested", () => undefined)}>
              {drawn(f, `Mark the ${name}`, () => actions.open(f.id))}
            </Redrawn>
            {picture.error && (
              <div role="alert" className="border border-t-0 border-mustfix bg-paper p-3">
                <p className="font-bold break-words text-mustfix">{picture.name} can’t be used</p>
                <p className="text-sm">{picture.error}</p>
                <Button className="mt-2" onClick={() => actions.dropPicture(row.id, f.id)}>
                  Delete
                </Button>
              </div>
            )}
            <Actions
              label={`Actions for the ${name}`}
              choices={moves}
              className="absolute top-1.5 right-1.5 rounded border border-line bg-paper p-0.5 text-ink group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100 [@media(hover:hover)]:opacity-0"
            >
              <Ellipsis size={17} aria-hidden />
            </Actions>
          </div>
        );
      })}
      {row.content.figures.length === 0 && !row.content.document && (
        <button
          type="button"
          onClick={() => actions.addPictures(row.id)}
          className="w-full max-w-[28.1rem] rounded border border-dashed border-soft px-3 py-6 text-soft hover:border-action hover:text-action"
        >
          Add a picture, or paste one
        </button>
      )}
    </div>
  );
}
