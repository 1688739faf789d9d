import { dayOf } from "../../base/format";
import { part } from "../../base/ui/part";
import { type ComponentProps, Fragment, useContext, useEffect, useMemo, useState } from "react";
import { type Account, type Block, mayEdit, mayRead, mayReview, type WholeDocument } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { NoticePanel, SignalWord } from "../../base/ui/NoticePanel";
import { shown } from "../../base/ui/shown";
import { WordsView } from "../words/WordsView";
import { Confirm } from "./Confirm";
import { Fails } from "./Fails";
import { FollowedPicture } from "./FollowedPicture";
import { Leads, type Trail } from "./Leads";
import { isStep, parts, says, unanswered } from "./parts";
import { Loading } from "../../base/ui/states";
import { PlayedClip } from "./PlayedClip";
import { Source } from "./source";
import type { useFollowed } from "./useFollowed";
import { sure } from "../../base/typed";

const Watch = part<ComponentProps<typeof import("./Watch").Watch>>(
  () => import("./Watch").then((m) => ({ default: m.Watch })),
  <Loading what="the film" />,
);

/** All of a document on a page, to be read, followed and printed. */
export function AllSteps(props: {
  account: Account;
  data: WholeDocument;
  steps: Block[];
  followed: ReturnType<typeof useFollowed>;
  go: (n: number) => void;
  trailAt: (step: Block, one: boolean) => Trail;
}) {
  const { account, data, steps, followed, go } = props;
  const { summary, facts } = data;
  const [watching, setWatching] = useState(false);
  const ids = useMemo(() => steps.map((s) => s.id), [steps]);
  const last = steps.findIndex((s) => s.id === followed.at);
  useEffect(() => {
    const id = decodeURIComponent(location.hash.slice(1));
    if (id) document.getElementById(id)?.scrollIntoView();
  }, []);
  const answers = data.blocks.some((b) => b.content.asks);
  const said = [
    summary.number,
    summary.state === "ready" ? `Revision ${summary.said}` : answers ? "" : "Draft, not ready for use",
    facts.effective && `holds from ${facts.effective}`,
    facts.classification,
  ].filter(Boolean);
  return (
    <main className="mx-auto max-w-4xl bg-paper px-4 py-6 sm:px-10 sm:py-8">
      {data.signal && <SignalWord signal={data.signal} />}
      <h1 className="text-2xl font-bold sm:text-3xl">{shown(summary.title)}</h1>
      <p className="mt-1 text-soft">
        {shown(
          [...said, ...(summary.kind === "request" ? [] : [`by ${summary.changedBy}`])].map((s) => `${s}, `).join(""),
        )}
        {dayOf(summary.changedAt)}. {steps.length > 0 && (steps.length === 1 ? "1 step" : `${steps.length} steps`)}
        {data.time && `, ${data.time}`}
        {steps.length > 0 && "."}
      </p>
      {facts.notice && (
        <div className="mt-4">
          <NoticePanel notice={facts.notice} />
        </div>
      )}
      {steps.length > 0 && !answers ? (
        <div className="mt-4 flex flex-wrap items-center gap-3 print:hidden">
          {last > 0 && (
            <Button look="main" onClick={() => go(last + 1)}>
              Go on at step {steps[last]?.number}
            </Button>
          )}
          <Button look={last > 0 ? undefined : "main"} onClick={() => go(1)}>
            Follow one step at a time
          </Button>
          {followed.count > 0 && (
            <Button look="quiet" onClick={followed.again}>
              Begin anew
            </Button>
          )}
          {facts.film?.offered && summary.revision > 0 && (
            <Button aria-expanded={watching} onClick={() => setWatching(!watching)}>
              Watch the film
            </Button>
          )}
          <Button look="quiet" onClick={() => print()}>
            Print
          </Button>
        </div>
      ) : (
        !answers && (
          <p className="mt-4">
            {mayEdit(account) ? "There are no steps yet. Write them first." : "There are no steps yet."}
          </p>
        )
      )}
      {watching && (
        <Watch
          id={summary.id}
          onDone={() => setWatching(false)}
          goTo={(block) => document.getElementById(block)?.scrollIntoView()}
        />
      )}
      {parts(data.blocks).map(({ heading, blocks }) => (
        <section key={heading?.id ?? ""} aria-labelledby={heading?.id} className="mt-6">
          {heading && <Heading block={heading} />}
          {runs(blocks).map((run, i) =>
            isStep(sure(run[0])) ? (
              <ol key={i}>
                {run.map((s) => (
                  <li
                    key={s.id}
                    id={s.id}
                    className="grid break-inside-avoid grid-cols-[2.4rem_minmax(0,1fr)] gap-x-2 border-t border-line py-5 target:bg-[#f3f7f8] sm:grid-cols-[3.2rem_minmax(0,1fr)]"
                  >
                    <div>
                      <span className="block text-2xl leading-7 font-bold">{s.number}</span>
                      <input
                        type="checkbox"
                        aria-label={`Step ${s.number} is done`}
                        title="Done"
                        checked={followed.done(s.id)}
                        onChange={(e) => followed.tick(s.id, e.target.checked)}
                        className="mt-2 size-6"
                      />
                    </div>
                    <div className="min-w-0">
                      {s.content.critical && <Critical />}
                      <Said block={s} data={data} eager={steps.indexOf(s) < 2} from={props.trailAt(s, false)} />
                      <Fails account={account} data={data} step={s} />
                    </div>
                  </li>
                ))}
              </ol>
            ) : (
              run.map((p) => (
                <div key={p.id} id={p.id} className="break-inside-avoid border-t border-line py-4">
                  <Said block={p} data={data} eager={false} from={props.trailAt(p, false)} />
                </div>
              ))
            ),
          )}
        </section>
      ))}
      {summary.revision > 0 && mayRead(account) && !mayReview(account) && (
        <Confirm document={summary.id} revision={summary.revision} steps={ids} />
      )}
    </main>
  );
}

/** Steps and passages, each kind together where it follows itself. */
function runs(blocks: Block[]): Block[][] {
  const all: Block[][] = [];
  for (const b of blocks.filter((b) => !unanswered(b))) {
    const last = all.at(-1);
    if (last?.[0]?.content.type === b.content.type) last.push(b);
    else all.push([b]);
  }
  return all;
}

export const Critical = () => (
  <p className="mb-2">
    <span className="bg-ink px-2 py-0.5 font-bold text-paper">Critical step</span>
  </p>
);

/** What a step or a passage says, shows and leads to. */
export function Said(props: { block: Block; data: WholeDocument; eager: boolean; from: Trail; large?: boolean }) {
  const { block, data, eager, from, large } = props;
  const id = data.summary.id;
  const { figure, clip, over, around } = useContext(Source);
  return (
    <>
      {block.question && <p className="mb-1 font-bold">{block.question}</p>}
      {block.content.notice && <NoticePanel notice={block.content.notice} />}
      {says(block) && (
        <div className={`mb-3 leading-relaxed ${large ? "text-[1.25rem]" : "text-[1.1rem]"}`}>
          <WordsView words={block.content.words} markers={block.markers} />
        </div>
      )}
      <Leads step={block} others={data.others ?? {}} from={from} />
      {block.content.figures.map((f) => {
        const picture = (
          <FollowedPicture
            address={figure(id, f.id, large ? 1600 : 1000, data.seq)}
            large={figure(id, f.id, 2400, data.seq)}
            alt={block.alts[f.id] ?? ""}
            seen={block.seen?.[f.id]}
            eager={eager}
            over={over?.(f.id)}
          />
        );
        const shown = around?.(f, picture) ?? picture;
        return (
          <Fragment key={f.id}>
            {block.clips?.[f.id] ? (
              <PlayedClip
                address={clip(id, f.id, data.seq)}
                alt={block.alts[f.id] ?? "Clip"}
                ms={block.clips[f.id] ?? 0}
              >
                {shown}
              </PlayedClip>
            ) : (
              shown
            )}
          </Fragment>
        );
      })}
    </>
  );
}

export function Heading({ block }: { block: Block }) {
  const chapter = block.content.type === "chapter";
  const Level = !chapter && (block.content.level ?? 1) > 1 ? "h3" : "h2";
  return (
    <Level
      id={block.id}
      className={`mb-3 flex gap-3 font-bold ${chapter ? "text-2xl" : Level === "h3" ? "text-lg" : "text-xl"}`}
    >
      <span className="text-action">{block.number}</span>
      <WordsView words={block.content.words} markers={{}} />
    </Level>
  );
}
