import { leadingTo } from "../../base/api/content";
import { PickDocument } from "../../base/ui/PickDocument";
import type { Row } from "../../parts/document/model";
import type { Linked } from "../../parts/document/useActions";
import { WebLinkDialog } from "./Beside";
import { useDesk } from "./desk";

/** What a block is to lead to: a procedure, which becomes a chapter before a position, or a page of the web. */
export type Links = Linked | { beside: string };

/** Asks for what a block is to lead to. */
export function Linking({ rows, what, onDone }: { rows: Row[]; what: Links; onDone: () => void }) {
  const { id, draft, inManual } = useDesk();
  if ("beside" in what)
    return (
      <WebLinkDialog
        onDone={(link) => {
          onDone();
          if (link)
            draft.patch("Add a web link", [what.beside], ({ content }) => ({
              ...content,
              beside: [...(content.beside ?? []), link],
            }));
        }}
      />
    );
  const lead = (document: string) => {
    if ("before" in what) draft.insert("Add a chapter", what.before, [leadingTo("chapter", document)]);
    else
      draft.patch("Lead to another procedure", [what.block], ({ content }) => ({
        ...content,
        document,
        revision: undefined,
      }));
  };
  return (
    <PickDocument
      title={inManual ? "Add a procedure as a chapter" : "Do another procedure here"}
      kind="procedure"
      without={[id, ...(inManual ? rows.flatMap((r) => r.content.document ?? []) : [])]}
      onDone={(d) => {
        onDone();
        if (d) lead(d.id);
      }}
    />
  );
}
