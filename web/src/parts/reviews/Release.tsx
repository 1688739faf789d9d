import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, expect, type Finding, type Thread } from "../../base/api/client";
import type { Draft } from "../document/draft";
import { Actions, Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { ShareDialog } from "../share/ShareDialog";
import { StateBadge } from "../bar/TopBar";
import { AskToConfirm } from "./AskToConfirm";
import { SendDialog } from "./SendDialog";
import { useApproval, useReviews } from "./useReviews";

/** How far a draft has come: looked at, approved, released. */
export function Standing({ id, draft, said }: { id: string; draft: Draft; said: string | undefined }) {
  const reviews = useReviews(id);
  const open = reviews.data?.filter((r) => !r.closedAt) ?? [];
  if (open.length === 0)
    return <StateBadge kind={draft.kind} state={draft.state} revision={draft.revision} said={said} />;
  return (
    <Link to={`/d/${id}/review`} className="text-sm whitespace-nowrap text-mist underline hover:text-paper">
      In review, {counted(open.flatMap((r) => r.people))}
    </Link>
  );
}

/** What can be asked of others: to look at the draft, to follow it by a link, to confirm what is valid. */
export function Others({ id, draft, onHistory }: { id: string; draft: Draft; onHistory: () => void }) {
  const navigate = useNavigate();
  const saved = useSaved(draft);
  const reviews = useReviews(id);
  const [asking, setAsking] = useState<"review" | "confirm" | "share">();
  const more = [
    { label: "History", run: onHistory },
    ...((reviews.data?.length ?? 0) > 0
      ? [{ label: "See what was answered", run: () => void navigate(`/d/${id}/review`) }]
      : []),
    ...(draft.revision > 0
      ? [{ label: "Ask people to confirm that they have read it", run: () => setAsking("confirm") }]
      : []),
  ];
  return (
    <>
      <Button look="quiet" className="-mx-1" onClick={() => setAsking("share")}>
        Share
      </Button>
      <Button look="quiet" className="-mx-1" onClick={() => saved(() => setAsking("review"))}>
        Ask for review
      </Button>
      <Actions
        label="More for this document"
        className="min-w-7 rounded px-2 py-1 text-action hover:bg-paper data-[state=open]:bg-paper"
        choices={more}
      >
        …
      </Actions>
      {asking === "review" && <SendDialog document={id} seq={draft.seen} onDone={() => setAsking(undefined)} />}
      {asking === "share" && (
        <ShareDialog document={id} title={draft.title} revision={draft.revision} onDone={() => setAsking(undefined)} />
      )}
      {asking === "confirm" && <AskToConfirm document={id} onDone={() => setAsking(undefined)} />}
    </>
  );
}

/** Does something once all is on the server, or says that it is not yet. */
function useSaved(draft: Draft) {
  const notice = useNotice();
  return (act: () => void) => {
    if (draft.status.kind === "saved") act();
    else notice({ text: "Some changes are not saved yet. Try again in a moment." });
  };
}

/** Releases a draft, or, where its folder says so, asks for approval. */
export function Release(props: { id: string; draft: Draft; must: number; threads: Thread[]; findings: Finding[] }) {
  const { id, draft, must } = props;
  const notice = useNotice();
  const saved = useSaved(draft);
  const approval = useApproval(id);
  const [asking, setAsking] = useState(false);
  const release = useMutation({
    mutationFn: () =>
      expect(
        api.PUT("/api/documents/{document}/state", {
          params: { path: { document: id } },
          body: { act: "release", seq: draft.seen },
        }),
      ),
    onSuccess: ({ revision }) => {
      draft.markedReady(revision);
      notice({ text: `Ready: readers now follow revision ${revision}.` });
    },
  });
  const toApprove = (approval.data?.rule.needed ?? 0) > 0;
  // What is left open is said once, and whoever releases all the same knows it.
  const left = leftOpen(props.threads, props.findings);
  const [warning, setWarning] = useState(false);
  const go = () => saved(() => (toApprove ? setAsking(true) : release.mutate()));
  return (
    <>
      <Button
        look="main"
        disabled={release.isPending || approval.isPending}
        title="Readers follow it from then on"
        why={
          must > 0
            ? `Fix what must be fixed first: ${must === 1 ? "1 thing" : `${must} things`}, in the margin and below the outline.`
            : draft.state === "ready" && "Nothing was changed since it was released."
        }
        onClick={() => (left && told.get(id) !== left ? setWarning(true) : go())}
      >
        {draft.state === "ready" ? "Released" : toApprove ? "Ask for approval" : "Release"}
      </Button>
      {warning && (
        <Panel title="Something is left open" onDone={() => setWarning(false)}>
          <p>{left}. Readers see none of it, but nobody may have settled it.</p>
          <div className="mt-5 flex justify-end gap-2">
            <Button onClick={() => setWarning(false)}>Look at it first</Button>
            <Button
              look="main"
              onClick={() => {
                told.set(id, left);
                setWarning(false);
                go();
              }}
            >
              {toApprove ? "Ask for approval all the same" : "Release all the same"}
            </Button>
          </div>
        </Panel>
      )}
      {asking && <SendDialog document={id} seq={draft.seen} approval={approval.data} onDone={() => setAsking(false)} />}
    </>
  );
}

/** What was said to be left open, by document: it is said once. */
const told = new Map<string, string>();

/** What is not settled, in words; "" where all is. */
function leftOpen(threads: Thread[], findings: Finding[]): string {
  const n = (many: number, one: string, more: string) => (many === 0 ? [] : [many === 1 ? one : `${many} ${more}`]);
  const open = threads.filter((t) => !t.resolved);
  const suggested = open.filter((t) => t.suggestion && !t.suggestion.outcome);
  const secrets = new Set(findings.filter((f) => f.rule === "secrets").map((f) => f.figure ?? f.block));
  return [
    ...n(open.length - suggested.length, "1 comment is open", "comments are open"),
    ...n(suggested.length, "1 suggestion is open", "suggestions are open"),
    ...n(secrets.size, "1 picture may show a secret", "pictures may show secrets"),
  ].join(", ");
}

const counted = (people: { answer?: string }[]) => `${people.filter((p) => p.answer).length} of ${people.length}`;
