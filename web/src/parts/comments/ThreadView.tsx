import { momentShort } from "../../base/format";
import { useState } from "react";
import type { Thread } from "../../base/api/client";
import { Actions, Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { unsent } from "../../base/ui/unsent";
import { Compose } from "./Compose";
import { SuggestionView } from "./SuggestionView";
import { useSay } from "./useComments";

type Comment = Thread["comments"][number];

/** What is said about one thing, with what answers it. */
export function ThreadView(props: {
  document: string;
  thread: Thread;
  /** What it is about, in words. */
  about: string;
  /** The words that it is about are not there any more. */
  lost?: boolean;
  onGo?: (() => void) | undefined;
  /** Writes the words that are suggested; nothing where the reader of this changes nothing. */
  onTake?: ((thread: Thread) => void) | undefined;
}) {
  const { thread: t } = props;
  const { say, change } = useSay(props.document);
  const keep = `answer ${t.id}`;
  const [answering, setAnswering] = useState(unsent.has(keep));
  return (
    <section
      data-thread={t.id}
      tabIndex={-1}
      aria-label={`Comment by ${t.comments[0]?.by ?? ""}`}
      className={`border-l-[3px] border-action pl-3 ${t.resolved ? "opacity-80" : ""}`}
    >
      {t.place.words ? (
        <p className="text-sm text-soft">
          {props.lost ? (
            <>
              About words that are not there any more: “<del>{shown(t.place.words.text)}</del>”
            </>
          ) : (
            <button type="button" onClick={props.onGo} className="text-left italic hover:underline">
              “{shown(t.place.words.text)}”
            </button>
          )}
        </p>
      ) : (
        props.about && <p className="text-sm text-soft">{props.about}</p>
      )}
      <SuggestionView document={props.document} thread={t} {...(props.onTake && { onTake: props.onTake })} />
      <ol className="space-y-1.5">
        {t.comments.map((c) => (
          <Said key={c.id} document={props.document} comment={c} />
        ))}
      </ol>
      {t.resolved && (
        <p className="mt-1 text-sm text-soft">
          Settled by {shown(t.resolved.by)}, {momentShort(t.resolved.at)}.
        </p>
      )}
      {answering ? (
        <Compose
          label="Your answer"
          keep={keep}
          confirm="Answer"
          autoFocus
          busy={say.isPending}
          error={say.error}
          onLeave={() => setAnswering(false)}
          onSay={(body, mentions) =>
            say.mutate(
              { id: crypto.randomUUID(), thread: t.id, body, mentions },
              { onSuccess: () => (unsent.delete(keep), setAnswering(false)) },
            )
          }
        />
      ) : (
        <div className="mt-0.5 -ml-2 flex flex-wrap">
          {!t.resolved && (
            <Button small look="quiet" onClick={() => setAnswering(true)}>
              Answer
            </Button>
          )}
          <Button
            small
            look="quiet"
            disabled={change.isPending}
            onClick={() => change.mutate({ comment: t.id, resolved: !t.resolved })}
          >
            {t.resolved ? "Open again" : "Settle"}
          </Button>
        </div>
      )}
    </section>
  );
}

/** One comment; one's own can be changed and taken back. */
function Said({ document, comment: c }: { document: string; comment: Comment }) {
  const { change, takeBack } = useSay(document);
  const keep = `change ${c.id}`;
  const [changing, setChanging] = useState(unsent.has(keep));
  return (
    <li>
      <p className="flex items-start gap-2 text-sm">
        <span className="flex-1">
          <b>{shown(c.by)}</b>{" "}
          <span className="text-soft">
            {momentShort(c.at)}
            {c.edited && ", changed"}
          </span>
        </span>
        {c.mine && !c.deleted && (
          <Actions
            label={`What to do with the comment of ${momentShort(c.at)}`}
            className="rounded px-1 text-soft hover:bg-desk hover:text-ink"
            choices={[
              { label: "Change", run: () => setChanging(true) },
              { label: "Take back", run: () => takeBack.mutate(c.id), danger: true },
            ]}
          >
            …
          </Actions>
        )}
      </p>
      {changing ? (
        <Compose
          label="Your comment"
          keep={keep}
          initial={c.body}
          confirm="Keep"
          autoFocus
          busy={change.isPending}
          error={change.error}
          onLeave={() => setChanging(false)}
          onSay={(body, mentions) =>
            change.mutate(
              { comment: c.id, body, mentions },
              { onSuccess: () => (unsent.delete(keep), setChanging(false)) },
            )
          }
        />
      ) : c.deleted ? (
        <p className="text-sm text-soft italic">Taken back.</p>
      ) : (
        <p dir="auto" className="text-[0.95rem] break-words whitespace-pre-wrap">
          {shown(c.body)}
        </p>
      )}
    </li>
  );
}
