import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, expect } from "../api/client";
import type { Draft } from "../manuscript/draft";
import { Actions, Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { ShareDialog } from "../share/ShareDialog";
import { stateSaid } from "../shell/TopBar";
import { AskToConfirm } from "./AskToConfirm";
import { SendDialog } from "./SendDialog";
import { useApproval, useReviews } from "./useReviews";

/** How far a draft has come: looked at, approved, released; with what can be asked of others. */
export function Standing({ id, draft, said }: { id: string; draft: Draft; said: string | undefined }) {
  const navigate = useNavigate();
  const saved = useSaved(draft);
  const reviews = useReviews(id);
  const [asking, setAsking] = useState<"review" | "confirm" | "share">();
  const open = reviews.data?.filter((r) => !r.closedAt) ?? [];
  return (
    <>
      <Actions
        className="rounded border border-soft px-2 py-0.5 text-sm whitespace-nowrap text-mist hover:bg-deep data-[state=open]:bg-deep"
        choices={[
          { label: "Send for review", run: () => saved(() => setAsking("review")) },
          { label: "See what was answered", run: () => void navigate(`/d/${id}/review`) },
          "line" as const,
          { label: "Share by a link or a code", run: () => setAsking("share") },
          ...(draft.revision > 0
            ? [{ label: "Ask people to confirm that they have read it", run: () => setAsking("confirm") }]
            : []),
        ]}
      >
        {open.length > 0
          ? `In review, ${counted(open.flatMap((r) => r.people))}`
          : stateSaid(draft.state, draft.revision, said)}
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
export function Release({ id, draft, must }: { id: string; draft: Draft; must: number }) {
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
    onError: (e) => notice({ text: e.message }),
  });
  const toApprove = (approval.data?.rule.needed ?? 0) > 0;
  return (
    <>
      <Button
        look="call"
        disabled={must > 0 || draft.state === "ready" || release.isPending || approval.isPending}
        title={must > 0 ? "Fix what must be fixed first" : ""}
        onClick={() => saved(() => (toApprove ? setAsking(true) : release.mutate()))}
      >
        {draft.state === "ready" ? "Ready" : toApprove ? "Ask for approval" : "Mark ready"}
      </Button>
      {asking && <SendDialog document={id} seq={draft.seen} approval={approval.data} onDone={() => setAsking(false)} />}
    </>
  );
}

const counted = (people: { answer?: string }[]) => `${people.filter((p) => p.answer).length} of ${people.length}`;
