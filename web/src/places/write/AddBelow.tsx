import { movingTypes, pictureTypes } from "../../base/api/client";
import { asksOf } from "../../base/api/kinds";
import { Button, ChooseFiles } from "../../base/ui/controls";
import type { Row } from "../../parts/document/model";
import type { Travel } from "../../parts/document/useUndo";
import { Attachments } from "../../parts/reports/Attachments";
import { Checked } from "./Checked";
import { useDesk } from "./desk";
import { Repeats } from "./Repeats";
import { Shown } from "./Shown";

/** What stands below the last block: what can be added there, and what is done to the whole document. */
export function AddBelow(props: {
  rows: Row[];
  travel: Travel;
  onPictures: (files: File[]) => void;
  /** Gives each picture a new shot, one after the other, from this one on. */
  onReplace: (first: string) => void;
}) {
  const { rows, travel, onPictures, onReplace } = props;
  const { id, draft, actions, inManual } = useDesk();
  const filed = draft.kind === "filed";
  const asks = asksOf(draft.kind);
  const pictured = rows.flatMap((r) => r.content.figures)[0];
  return (
    <>
      {filed ? (
        <span className="text-soft">
          This is a filed PDF. Its pages stand under Follow; there it can also be rewritten as a procedure.
        </span>
      ) : inManual ? (
        <Button look="main" onClick={() => actions.link({ before: rows.length })}>
          Add a chapter
        </Button>
      ) : (
        <>
          <ChooseFiles
            label="Add pictures"
            accept={`${pictureTypes},${movingTypes}`}
            many
            look="main"
            onFiles={onPictures}
          />
          <Button onClick={() => actions.insert(rows.length)}>Add a step without a picture</Button>
        </>
      )}
      {!filed && !asks && <Button onClick={() => actions.section(rows.length)}>Begin a section</Button>}
      {!filed && <Button onClick={() => actions.passage(rows.length)}>Add a passage</Button>}
      {asks && <Attachments id={id} />}
      {pictured && (
        <Button
          title="The program was updated: give each picture a new shot, one after the other"
          onClick={() => onReplace(pictured.id)}
        >
          Replace the pictures
        </Button>
      )}
      <Shown draft={draft} />
      <Checked id={id} draft={draft} />
      <Repeats id={id} draft={draft} travel={travel} />
      {!inManual && !filed && <span className="text-soft">Or paste anywhere, or drop files between steps.</span>}
    </>
  );
}
