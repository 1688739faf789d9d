import { useState } from "react";
import { InsertAnswer } from "./InsertAnswer";
import type { Draft } from "../document/draft";
import { Button } from "../../base/ui/controls";
import { PickDocument } from "../../base/ui/PickDocument";
import { shown } from "../../base/ui/shown";
import { standing } from "./standing";
import { useAsked } from "./useInbox";

/** Over a request that came in: who asks, how it stands, and what to do about it. */
export function Asked({ id, draft }: { id: string; draft: Draft }) {
  const { asked, set } = useAsked(id);
  const [picking, setPicking] = useState(false);
  const [answer, setAnswer] = useState<string>();
  if (!asked) return null;
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1 border-l-[3px] border-call bg-desk px-3 py-2">
      <span className="min-w-0 flex-1">
        <b>{shown(asked.asker)}</b> asks{asked.address && `, ${shown(asked.address)}`}. {standing(asked)}.
      </span>
      {!asked.mine && (
        <Button small disabled={set.isPending} onClick={() => set.mutate("taken")}>
          Take it
        </Button>
      )}
      <Button small onClick={() => setPicking(true)}>
        Use a stock answer
      </Button>
      {asked.state !== "answered" && (
        <Button
          small
          look="main"
          disabled={set.isPending}
          title="Whoever asked sees the answer, and is told by mail if they left an address"
          onClick={() => void draft.settled().then(() => set.mutate("answered"))}
        >
          It is answered
        </Button>
      )}
      {asked.state !== "closed" && (
        <Button small disabled={set.isPending} onClick={() => set.mutate("closed")}>
          Close
        </Button>
      )}
      {picking && (
        <PickDocument
          title="Use a stock answer"
          kind="answer"
          onDone={(chosen) => {
            setPicking(false);
            setAnswer(chosen?.id);
          }}
        />
      )}
      {answer && <InsertAnswer answer={answer} name={asked.asker} draft={draft} onDone={() => setAnswer(undefined)} />}
      {set.error && (
        <span role="alert" className="text-mustfix">
          {set.error.message}
        </span>
      )}
    </div>
  );
}
