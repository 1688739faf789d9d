import { type ReactNode, useState } from "react";
import {
  type Block,
  type CommentPlace,
  type Figure,
  clipAddress,
  figureAddress,
  type Thread,
  type WholeDocument,
} from "../../base/api/client";
import { PinPlace } from "../../parts/comments/PinPlace";
import { Pins } from "../../parts/comments/Pins";
import { Redrawn } from "../../parts/comments/Redrawn";
import { core } from "../../base/core/core";
import { Critical, Heading, Said } from "../../parts/reading/AllSteps";
import { Source } from "../../parts/reading/source";
import { heads, isStep } from "../../parts/reading/parts";
import { Look } from "../../parts/reviews/Look";
import { Suggest } from "./Suggest";
import { Button } from "../../base/ui/controls";
import { NoticePanel, SignalWord } from "../../base/ui/NoticePanel";
import { shown } from "../../base/ui/shown";

/** All of a document as readers will see it, with a way to comment at each step. */
export function Reading(props: {
  data: WholeDocument;
  threads: Thread[];
  onComment: (place: CommentPlace) => void;
  onGo: (thread: Thread) => void;
  /** Suggests another look of a picture. */
  onSuggest: (figure: string) => void;
}) {
  const { data, threads, onComment, onGo } = props;
  const { summary, facts } = data;
  const [placing, setPlacing] = useState<string>();
  const over = (id: string) => {
    const found = pictureIn(data, id);
    if (!found) return undefined; // a chapter's, whose comments are its own
    const { block, figure, size } = found;
    if (placing !== id) return <Pins figure={figure} size={size} threads={threads} onGo={onGo} />;
    return (
      <PinPlace
        onCancel={() => setPlacing(undefined)}
        onPlace={(at) => {
          setPlacing(undefined);
          onComment({ block: block.id, figure: id, ...(at && { pin: core.pinAt(figure, size, at) }) });
        }}
      />
    );
  };
  const around = (f: Figure, picture: ReactNode) => {
    const found = pictureIn(data, f.id);
    if (!found) return picture;
    const draw = (look: Figure) => (
      <Look document={summary.id} seq={data.seq} figure={look} size={found.size} first={firstMarker(data, f.id)} />
    );
    return (
      <Redrawn figure={f} threads={threads} draw={draw}>
        {picture}
      </Redrawn>
    );
  };
  return (
    <Source.Provider value={{ figure: figureAddress, clip: clipAddress, guest: false, over, around }}>
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
              <Row
                key={b.id}
                block={b}
                data={data}
                onComment={onComment}
                onPlace={setPlacing}
                onSuggest={props.onSuggest}
              />
            ),
          )}
        </div>
        {data.blocks.length === 0 && <p className="mt-4 text-soft">There are no steps yet.</p>}
      </article>
    </Source.Provider>
  );
}

/** A picture of the document's own, where it is, and how large its shot is. */
export function pictureIn(data: WholeDocument, id: string) {
  const block = data.blocks.find((b) => b.content.figures.some((f) => f.id === id));
  const figure = block?.content.figures.find((f) => f.id === id);
  const shot = data.shots.find((s) => s.id === figure?.shot);
  return block && figure && shot && { block, figure, size: { w: shot.width, h: shot.height } };
}

/** The number of a picture's first marker. */
export const firstMarker = (data: WholeDocument, figure: string) =>
  core.numbers(data.blocks, data.facts.counting).markers[figure] ?? 1;

/** A step or a passage, with what can be said of it. */
function Row(props: {
  block: Block;
  data: WholeDocument;
  onComment: (place: CommentPlace) => void;
  onPlace: (figure: string) => void;
  onSuggest: (figure: string) => void;
}) {
  const { block: b, data, onComment, onPlace } = props;
  const step = isStep(b);
  const figure = b.content.figures[0];
  const [suggests, setSuggests] = useState(false);
  const what = step ? `step ${b.number}` : "this passage";
  return (
    <div
      id={b.id}
      data-block={b.id}
      className="group grid grid-cols-[2.6rem_minmax(0,1fr)] gap-x-2 border-t border-line py-4"
    >
      <span className="text-xl leading-7 font-bold">{step && b.number}</span>
      <div className="min-w-0">
        {b.content.critical && <Critical />}
        <div data-words>
          <Said block={b} data={data} eager={false} from={[]} />
        </div>
        {suggests && <Suggest document={data.summary.id} block={b} onDone={() => setSuggests(false)} />}
        <p className="-ml-2 flex gap-1">
          {!suggests && (
            <Button small look="quiet" aria-label={`Suggest other words for ${what}`} onClick={() => setSuggests(true)}>
              Suggest other words
            </Button>
          )}
          <Button small look="quiet" aria-label={`Comment on ${what}`} onClick={() => onComment({ block: b.id })}>
            Comment
          </Button>
          {figure && (
            <Button
              small
              look="quiet"
              aria-label={`Comment on the picture of ${what}`}
              onClick={() => onPlace(figure.id)}
            >
              On the picture
            </Button>
          )}
          {b.content.figures
            .filter((f) => pictureIn(data, f.id))
            .map((f, i, all) => {
              const n = all.length > 1 ? ` ${i + 1}` : "";
              return (
                <Button
                  key={f.id}
                  small
                  look="quiet"
                  aria-label={`Suggest another picture${n} for ${what}`}
                  onClick={() => props.onSuggest(f.id)}
                >
                  Suggest another picture{n}
                </Button>
              );
            })}
        </p>
      </div>
    </div>
  );
}
