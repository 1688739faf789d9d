import type { Summary } from "../../base/api/client";
import { AskDialog, Panel } from "../../base/ui/controls";
import { PickDocument } from "../../base/ui/PickDocument";
import { shown } from "../../base/ui/shown";
import { FolderChoice } from "../../parts/library/FolderChoice";
import { checkTitle } from "./checkTitle";

/** What a document of the library is to become. */
export type Asked = { rename: Summary } | { move: Summary } | { instead: Summary };

/** Asks for a document's new title, its folder, or what takes its place. */
export function AskedOf(props: {
  asking: Asked;
  onDone: () => void;
  onRename: (d: Summary, title: string) => void;
  onMove: (d: Summary, folder: string) => void;
  onInstead: (d: Summary, other: Summary) => void;
}) {
  const { asking, onDone } = props;
  if ("rename" in asking)
    return (
      <AskDialog
        title="Rename the document"
        label="Title: what will the reader be able to do?"
        initial={asking.rename.title}
        confirm="Rename"
        check={checkTitle}
        onDone={(text) => {
          onDone();
          if (text) props.onRename(asking.rename, text);
        }}
      />
    );
  if ("move" in asking)
    return (
      <Panel title={`Move “${shown(asking.move.title)}”`} onDone={onDone}>
        <FolderChoice
          value={asking.move.folder ?? ""}
          onChange={(folder) => {
            onDone();
            props.onMove(asking.move, folder);
          }}
        />
      </Panel>
    );
  return (
    <PickDocument
      title={`What takes the place of “${shown(asking.instead.title)}”?`}
      without={[asking.instead.id]}
      onDone={(other) => {
        onDone();
        if (other) props.onInstead(asking.instead, other);
      }}
    />
  );
}
