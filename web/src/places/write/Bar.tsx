import { timeOf } from "../../base/format";
import { Redo2, Undo2 } from "lucide-react";
import { useMemo } from "react";
import { core } from "../../base/core/core";
import type { Account, Finding, Present } from "../../base/api/client";
import type { Commenting } from "../../parts/comments/commenting";
import { CommentsMenu } from "../../parts/comments/CommentsMenu";
import { Acts, DocumentBar } from "../../parts/bar/DocumentBar";
import { Button } from "../../base/ui/controls";
import { Here } from "../../parts/presence/Here";
import { Others, Release, Standing } from "../../parts/reviews/Release";
import type { Draft } from "../../parts/document/draft";
import { isSent } from "../../base/api/kinds";
import type { Status } from "../../parts/document/model";
import type { Travel } from "../../parts/document/useUndo";

/** The bar of the manuscript, and what can be done with it. */
export function Bar(props: {
  id: string;
  account: Account;
  draft: Draft;
  must: number;
  findings: Finding[];
  travel: Travel;
  onHistory: () => void;
  commenting: Commenting;
  present: Present[];
  onTakeAll: () => void;
  onSend: () => void;
  onUse: () => void;
}) {
  const { id, account, draft, must, travel } = props;
  const { facts, revision } = draft;
  const said = useMemo(() => core.sayRevision(facts, revision), [facts, revision]);
  return (
    <>
      <DocumentBar
        account={account}
        id={id}
        title={draft.title}
        standing={<Standing id={id} draft={draft} said={said} />}
      />
      <Acts>
        <Button
          look="quiet"
          className="-mx-2 px-2"
          aria-label="Undo"
          title={draft.canUndo() ? `Undo: ${draft.canUndo()}` : "Nothing to undo"}
          why={!draft.canUndo() && "Nothing to undo"}
          onClick={() => travel("undo")}
        >
          <Undo2 size={18} aria-hidden />
        </Button>
        <Button
          look="quiet"
          className="-mr-2 px-2"
          aria-label="Redo"
          title={draft.canRedo() ? `Redo: ${draft.canRedo()}` : "Nothing to redo"}
          why={!draft.canRedo() && "Nothing to redo"}
          onClick={() => travel("redo")}
        >
          <Redo2 size={18} aria-hidden />
        </Button>
        <Saved status={draft.status} keeps={draft.kept} />
        <Here present={props.present} />
        <span className="flex-1" />
        <CommentsMenu commenting={props.commenting} onTakeAll={props.onTakeAll} />
        <Others id={id} draft={draft} onHistory={props.onHistory} />
        {draft.kind === "answer" && <Button onClick={props.onUse}>Use</Button>}
        {isSent(draft.kind) ? (
          <Button look="main" onClick={props.onSend}>
            Send
          </Button>
        ) : (
          <Release id={id} draft={draft} must={must} threads={props.commenting.threads} findings={props.findings} />
        )}
      </Acts>
    </>
  );
}

function Saved({ status, keeps }: { status: Status; keeps: boolean }) {
  const text = {
    saved: () => (status.kind === "saved" && status.at ? `Saved ${timeOf(status.at)}` : "Saved"),
    saving: () => "Saving …",
    kept: () =>
      status.kind === "kept" ? `${status.why}. ${keeps ? "Kept in this browser." : "Keep this page open."}` : "",
    conflict: () => "Choose between two versions",
    refused: () => "Not all can be saved: see beside it",
  }[status.kind]();
  return (
    <span
      role="status"
      title={text}
      className={`min-w-12 text-sm ${status.kind === "saved" || status.kind === "saving" ? "text-soft" : "font-bold text-look"}`}
    >
      {text}
    </span>
  );
}
