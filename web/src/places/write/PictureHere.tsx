import { saying, withFigures } from "../../base/api/content";
import type { Numbers } from "../../base/core/core";
import { useNotice } from "../../base/ui/notices";
import type { Row } from "../../parts/document/model";
import type { Travel } from "../../parts/document/useUndo";
import { Stage } from "../../parts/stage/Stage";
import type { Replacement } from "../../parts/stage/useReplacement";
import { joins } from "../../parts/stage/useStage";
import { useDesk } from "./desk";
import type { Opened } from "./useOpened";

/** A picture of the document, open to be marked. */
export function PictureHere(props: {
  picture: NonNullable<Opened["picture"]>;
  opened: Opened;
  rows: Row[];
  numbers: Numbers;
  replacement: Replacement;
  travel: Travel;
}) {
  const { opened, rows, numbers, replacement, travel } = props;
  const { row, figure } = props.picture;
  const { draft, pictureOf } = useDesk();
  const notice = useNotice();
  return (
    <Stage
      rows={rows}
      row={row}
      figureID={figure}
      numbers={numbers}
      picture={pictureOf}
      onFigure={(label, change) =>
        draft.patch(
          label,
          [row.id],
          ({ content }) => withFigures(content, (f) => (f.id === figure ? change(f) : f)),
          joins(label),
        )
      }
      onSay={(text) => {
        draft.patch("Put text into the words", [row.id], ({ content }) => saying(content, text));
        notice({ text: "It stands in the words.", action: { label: "Undo", run: () => travel("undo") } });
      }}
      onFigures={(label, change) => draft.patchAll(label, ({ content }) => withFigures(content, change))}
      onShot={(shot) => draft.shotArrived(shot)}
      replacement={replacement}
      onOpen={opened.turnTo}
      onClose={opened.close}
    />
  );
}
