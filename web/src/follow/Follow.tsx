import { shown } from "../ui/shown";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useRef } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Account, api, expect, figureAddress, mayEdit, type Block } from "../api/client";
import { useEvents } from "../api/events";
import { DocumentTabs, TopBar } from "../shell/TopBar";
import { Blank, Button } from "../ui/controls";
import { NoticePanel, SignalWord } from "../ui/NoticePanel";
import { Loading } from "../ui/states";
import { useTitle } from "../ui/title";
import { useFollowed } from "./useFollowed";
import { WordsView } from "../words/WordsView";

/** Following a procedure: all steps on a page, or one at a time. */
export function Follow({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const client = useQueryClient();
  const whole = useQuery({
    queryKey: ["document", id],
    queryFn: () => expect(api.GET("/api/documents/{document}", { params: { path: { document: id } } })),
  });
  const followed = useFollowed(account.id, id);
  const refresh = () => void client.invalidateQueries({ queryKey: ["document", id] });
  useEvents({ document: (e) => e.document === id && refresh(), opened: refresh });
  useTitle(whole.data && shown(whole.data.summary.title));
  if (whole.error) {
    return (
      <>
        <TopBar account={account} />
        <Blank title="This document can’t be shown">
          {whole.error.message}{" "}
          <Link to="/" className="text-action underline">
            Go to the library
          </Link>
        </Blank>
      </>
    );
  }
  const data = whole.data;
  if (!data) {
    return (
      <>
        <TopBar account={account} />
        <main className="mx-auto max-w-4xl px-4">
          <Loading what="the procedure" />
        </main>
      </>
    );
  }
  const blocks = data.blocks;
  const steps = blocks.filter((b) => b.content.type === "step");
  const at = Number(search.get("step") ?? 0); // 0: all steps
  const go = (n: number) => setSearch(n > 0 ? { step: String(n) } : {}, { replace: at > 0 && n > 0 });
  const one = at >= 1 && at <= steps.length ? steps[at - 1] : undefined;
  const last = steps.findIndex((s) => s.id === followed.at);
  return (
    <>
      <TopBar account={account}>
        <Link to="/" className="hidden text-mist hover:text-paper sm:block">
          Library
        </Link>
        <span className="hidden min-w-0 flex-1 truncate font-bold sm:block">{shown(data.summary.title)}</span>
        <span className="flex-1 sm:hidden" />
        <DocumentTabs id={id} account={account} />
      </TopBar>
      {one ? (
        <OneStep
          key={one.id}
          document={id}
          seq={data.seq}
          step={one}
          section={parts(blocks).find((p) => p.steps.includes(one))?.heading}
          number={at}
          count={steps.length}
          go={go}
          done={followed.done(one.id)}
          onDone={(on) => followed.tick(one.id, on)}
          onBegin={followed.begin}
        />
      ) : (
        <main className="mx-auto max-w-4xl bg-paper px-4 py-6 sm:px-10 sm:py-8">
          {data.signal && <SignalWord signal={data.signal} />}
          <h1 className="text-2xl font-bold sm:text-3xl">{shown(data.summary.title)}</h1>
          <p className="mt-1 text-soft">
            {data.summary.state === "ready" ? `Revision ${data.summary.revision}` : "Draft, not ready for use"}, by{" "}
            {data.summary.changedBy},{" "}
            {new Date(data.summary.changedAt).toLocaleDateString("en-GB", {
              day: "numeric",
              month: "long",
              year: "numeric",
            })}
            . {steps.length === 1 ? "1 step" : `${steps.length} steps`}
            {data.time && `, ${data.time}`}.
          </p>
          {data.facts.notice && (
            <div className="mt-4">
              <NoticePanel notice={data.facts.notice} />
            </div>
          )}
          {steps.length > 0 ? (
            <div className="mt-4 flex flex-wrap items-center gap-3">
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
            </div>
          ) : (
            <p className="mt-4">
              {mayEdit(account) ? "There are no steps yet. Write them first." : "There are no steps yet."}
            </p>
          )}
          {parts(blocks).map(({ heading, steps: its }) => (
            <section key={heading?.id ?? ""} aria-labelledby={heading?.id} className="mt-6">
              {heading && <Heading block={heading} />}
              <ol>
                {its.map((s) => (
                  <li
                    key={s.id}
                    className="grid grid-cols-[2.4rem_minmax(0,1fr)] gap-x-2 border-t border-line py-5 sm:grid-cols-[3.2rem_minmax(0,1fr)]"
                  >
                    <div>
                      <span className="block text-2xl leading-7 font-bold">{s.number}</span>
                      <input
                        type="checkbox"
                        aria-label={`Step ${s.number} is done`}
                        title="Done"
                        checked={followed.done(s.id)}
                        onChange={(e) => followed.tick(s.id, e.target.checked)}
                        className="mt-2 size-6 accent-action"
                      />
                    </div>
                    <div>
                      {s.content.notice && <NoticePanel notice={s.content.notice} />}
                      <div className="mb-3 text-[1.1rem] leading-relaxed">
                        <WordsView words={s.content.words} markers={s.markers} />
                      </div>
                      <Figures document={id} seq={data.seq} step={s} number={steps.indexOf(s) + 1} width={1000} />
                    </div>
                  </li>
                ))}
              </ol>
            </section>
          ))}
        </main>
      )}
    </>
  );
}

/** The steps by the section they are in; those before the first have none. */
function parts(blocks: Block[]) {
  const all: { heading?: Block; steps: Block[] }[] = [];
  for (const b of blocks) {
    if (b.content.type === "section") all.push({ heading: b, steps: [] });
    else if (b.content.type === "step") {
      if (all.length === 0) all.push({ steps: [] });
      all[all.length - 1]?.steps.push(b);
    }
  }
  return all;
}

function Heading({ block }: { block: Block }) {
  const Level = block.content.level === 2 ? "h3" : "h2";
  return (
    <Level id={block.id} className={`mb-3 flex gap-3 font-bold ${Level === "h3" ? "text-lg" : "text-xl"}`}>
      <span className="text-action">{block.number}</span>
      <WordsView words={block.content.words} markers={{}} />
    </Level>
  );
}

function Figures({
  document,
  seq,
  step,
  number,
  width,
}: {
  document: string;
  seq: number;
  step: Block;
  number: number;
  width: number;
}) {
  return step.content.figures.map((f) => (
    <img
      key={f.id}
      src={figureAddress(document, f.id, width, seq)}
      alt={step.alts[f.id] ?? ""}
      loading={number > 2 ? "lazy" : "eager"}
      className="mb-3 block h-auto max-h-[75dvh] max-w-full border border-line"
    />
  ));
}

const swipe = 50; // pixels

function OneStep(props: {
  document: string;
  seq: number;
  step: Block;
  section: Block | undefined;
  number: number;
  count: number;
  go: (n: number) => void;
  done: boolean;
  onDone: (on: boolean) => void;
  onBegin: (step: string) => void;
}) {
  const { document, seq, step, section, number, count, done, onDone, onBegin } = props;
  // Going on says that a step is done; going back leaves it as it is.
  const go = (n: number) => {
    if (n > number) onDone(true);
    props.go(n);
  };
  const begin = useRef(onBegin);
  useEffect(() => begin.current(step.id), [step.id]);
  const touch = useRef<{ x: number; y: number }>(undefined);
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    heading.current?.focus({ preventScroll: true });
    scrollTo(0, 0);
  }, []);
  useLayoutEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.altKey || e.ctrlKey || e.metaKey) return;
      if ((e.key === "ArrowRight" || e.key === "PageDown") && number < count) go(number + 1);
      else if ((e.key === "ArrowLeft" || e.key === "PageUp") && number > 1) go(number - 1);
      else if (e.key === "Escape") go(0);
      else return;
      e.preventDefault();
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  });
  return (
    <main
      className="mx-auto flex min-h-[calc(100dvh-3rem)] max-w-6xl flex-col bg-paper px-4 pt-4 sm:px-8"
      onTouchStart={(e) => {
        const t = e.touches[0];
        touch.current = t && e.touches.length === 1 ? { x: t.clientX, y: t.clientY } : undefined;
      }}
      onTouchEnd={(e) => {
        const from = touch.current;
        const t = e.changedTouches[0];
        if (!from || !t || (visualViewport?.scale ?? 1) > 1.01) return; // zoomed, a finger moves the picture
        const [dx, dy] = [t.clientX - from.x, t.clientY - from.y];
        if (Math.abs(dx) < swipe || Math.abs(dx) < 2 * Math.abs(dy)) return;
        if (dx < 0 && number < count) go(number + 1);
        if (dx > 0 && number > 1) go(number - 1);
      }}
    >
      <div className="mb-3 flex items-center gap-4">
        <h1 ref={heading} tabIndex={-1} className="text-xl font-bold outline-none">
          Step {number} of {count}
        </h1>
        {section && (
          <span className="min-w-0 truncate text-soft">
            <WordsView words={section.content.words} markers={{}} />
          </span>
        )}
        <label className="flex items-center gap-1.5 text-soft">
          <input
            type="checkbox"
            checked={done}
            onChange={(e) => onDone(e.target.checked)}
            className="size-5 accent-action"
          />
          Done
        </label>
        {step.left && <span className="text-soft">{step.left} left</span>}
        <Button look="quiet" onClick={() => go(0)}>
          All steps
        </Button>
      </div>
      {step.content.notice && <NoticePanel notice={step.content.notice} />}
      <div className="mb-3 text-[1.25rem] leading-relaxed">
        <WordsView words={step.content.words} markers={step.markers} />
      </div>
      <div className="flex-1">
        <Figures document={document} seq={seq} step={step} number={number} width={1600} />
      </div>
      <div className="sticky bottom-0 flex items-center gap-3 border-t border-line bg-paper py-3">
        <Button
          className="flex-1 justify-center py-3 sm:flex-none sm:px-10"
          disabled={number === 1}
          onClick={() => go(number - 1)}
        >
          Back
        </Button>
        <progress
          aria-label="Steps done"
          max={count}
          value={number}
          className="hidden h-2 flex-1 accent-action sm:block"
        />
        {number < count ? (
          <Button
            look="main"
            className="flex-1 justify-center py-3 sm:flex-none sm:px-10"
            onClick={() => go(number + 1)}
          >
            Next
          </Button>
        ) : (
          <Button
            look="main"
            className="flex-1 justify-center py-3 sm:flex-none sm:px-10"
            onClick={() => {
              onDone(true);
              go(0);
            }}
          >
            Done
          </Button>
        )}
      </div>
    </main>
  );
}
