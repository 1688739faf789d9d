import { useKeys } from "../../base/keys/useKeys";
import { type ReactNode, useEffect, useRef, useState } from "react";
import type { Block, WholeDocument } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { NoticePanel } from "../../base/ui/NoticePanel";
import { WordsView } from "../words/WordsView";
import { Critical, Said } from "./AllSteps";
import type { Trail } from "./Leads";

const swipe = 50; // pixels

/** One step at a time, with large buttons, keys and swipes. */
export function OneStep(props: {
  data: WholeDocument;
  step: Block;
  passages: Block[];
  section: Block | undefined;
  number: number;
  count: number;
  go: (n: number) => void;
  done: boolean;
  onDone: (on: boolean) => void;
  onBegin: (step: string) => void;
  from: Trail;
  /** What one does where the step does not work. */
  fails?: ReactNode;
}) {
  const { data, step, section, number, count, done, onDone, onBegin } = props;
  const [sure, setSure] = useState(false);
  // A critical step is gone past by a deliberate press alone.
  const held = step.content.critical === true && !sure && !done;
  // Going on says that a step is done; going back leaves it as it is.
  const go = (n: number) => {
    if (n > number) {
      if (held) return;
      onDone(true);
    }
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
  useKeys("Step by step", [
    { keys: ["Right", "Page Down"], does: "Go to the next step", run: () => (number < count ? go(number + 1) : false) },
    { keys: ["Left", "Page Up"], does: "Go to the step before", run: () => (number > 1 ? go(number - 1) : false) },
    { keys: "Escape", does: "Leave", run: () => go(0) },
  ]);
  const large = "flex-1 justify-center py-3 sm:flex-none sm:px-10";
  return (
    <main
      className="mx-auto flex min-h-[calc(100dvh-var(--bar))] max-w-6xl flex-col bg-paper px-4 pt-4 sm:px-8"
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
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
        <h1 ref={heading} tabIndex={-1} className="text-xl font-bold outline-none">
          Step {number} of {count}
        </h1>
        {section && (
          <span className="min-w-0 truncate text-soft">
            <WordsView words={section.content.words} markers={{}} />
          </span>
        )}
        <label className="flex items-center gap-1.5 text-soft">
          <input type="checkbox" checked={done} onChange={(e) => onDone(e.target.checked)} className="size-5" />
          Done
        </label>
        {step.left && <span className="text-soft">{step.left} left</span>}
        <Button look="quiet" onClick={() => go(0)}>
          All steps
        </Button>
      </div>
      <div className="flex-1">
        {number === 1 && data.facts.notice && <NoticePanel notice={data.facts.notice} />}
        {props.passages.map((p) => (
          <div key={p.id} className="mb-4 border-l-[3px] border-line pl-3">
            <Said block={p} data={data} eager from={props.from} />
          </div>
        ))}
        {step.content.critical && <Critical />}
        <Said block={step} data={data} eager large from={props.from} />
        {props.fails}
      </div>
      {step.content.critical && (
        <label className="flex items-center gap-3 border-t-2 border-ink py-3 text-lg font-bold">
          <input
            type="checkbox"
            checked={sure || done}
            onChange={(e) => setSure(e.target.checked)}
            className="size-7"
          />
          I have made sure of this step
        </label>
      )}
      <div className="sticky bottom-0 flex items-center gap-3 border-t border-line bg-paper py-3">
        <Button className={large} disabled={number === 1} onClick={() => go(number - 1)}>
          Back
        </Button>
        <progress aria-label="Steps done" max={count} value={number} className="hidden h-2 flex-1 sm:block" />
        {number < count ? (
          <Button
            look="main"
            className={large}
            disabled={held}
            title={held ? "Say first that you have made sure of this step" : undefined}
            onClick={() => go(number + 1)}
          >
            Next
          </Button>
        ) : (
          <Button
            look="main"
            className={large}
            disabled={held}
            onClick={() => {
              onDone(true);
              props.go(0);
            }}
          >
            Done
          </Button>
        )}
      </div>
    </main>
  );
}
