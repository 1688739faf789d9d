import type { Block, CommentPlace, WholeDocument } from "../api/client";
import { Critical, Heading, Said } from "../follow/AllSteps";
import { heads, isStep } from "../follow/parts";
import { Button } from "../ui/controls";
import { NoticePanel, SignalWord } from "../ui/NoticePanel";
import { shown } from "../ui/shown";

/** All of a document as readers will see it, with a way to comment at each step. */
export function Reading({ data, onComment }: { data: WholeDocument; onComment: (place: CommentPlace) => void }) {
  const { summary, facts } = data;
  return (
    <article className="rounded border border-line bg-paper px-4 py-6 sm:px-8">
      {data.signal && <SignalWord signal={data.signal} />}
      <h1 className="text-2xl font-bold">{shown(summary.title)}</h1>
      <p className="mt-1 text-soft">
        {[summary.number, summary.state === "ready" ? `Revision ${summary.said}` : "Draft", facts.reason]
          .filter(Boolean)
          .map((s) => shown(s ?? ""))
          .join(", ")}
      </p>
      {facts.notice && (
        <div className="mt-4">
          <NoticePanel notice={facts.notice} />
        </div>
      )}
      <div className="mt-4">
        {data.blocks.map((b) =>
          heads(b) ? (
            <div key={b.id} data-block={b.id} className="pt-4">
              <Heading block={b} />
            </div>
          ) : (
            <Row key={b.id} block={b} data={data} onComment={onComment} />
          ),
        )}
      </div>
      {data.blocks.length === 0 && <p className="mt-4 text-soft">There are no steps yet.</p>}
    </article>
  );
}

function Row(props: { block: Block; data: WholeDocument; onComment: (place: CommentPlace) => void }) {
  const { block: b, data, onComment } = props;
  const step = isStep(b);
  const figure = b.content.figures[0];
  const what = step ? `step ${b.number}` : "this passage";
  return (
    <div
      id={b.id}
      data-block={b.id}
      className="group grid scroll-mt-16 grid-cols-[2.6rem_minmax(0,1fr)] gap-x-2 border-t border-line py-4"
    >
      <span className="text-xl leading-7 font-bold">{step && b.number}</span>
      <div className="min-w-0">
        {b.content.critical && <Critical />}
        <div data-words>
          <Said block={b} data={data} eager={false} from={[]} />
        </div>
        <p className="-ml-2 flex gap-1">
          <Button small look="quiet" aria-label={`Comment on ${what}`} onClick={() => onComment({ block: b.id })}>
            Comment
          </Button>
          {figure && (
            <Button
              small
              look="quiet"
              aria-label={`Comment on the picture of ${what}`}
              onClick={() => onComment({ block: b.id, figure: figure.id })}
            >
              On the picture
            </Button>
          )}
        </p>
      </div>
    </div>
  );
}
