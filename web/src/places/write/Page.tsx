import { rem } from "../../base/ui/rem";
import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { defaultRangeExtractor } from "@tanstack/react-virtual";
import {
  type ReactNode,
  type Ref,
  useCallback,
  useImperativeHandle,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Other, Present, Thread } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import type { Commenting } from "../../parts/comments/commenting";
import { Marked } from "../../parts/comments/Marked";
import { byOf } from "../../parts/presence/usePresence";
import { ChapterRow } from "./ChapterRow";
import type { Row } from "../../parts/document/model";
import { SectionRow } from "./SectionRow";
import type { Settle } from "../../parts/document/settle";
import { StepRow } from "./StepRow";
import { useDesk } from "./desk";
import { focusOn } from "./focusOn";
import { Margin } from "./Margin";
import type { Findings } from "./useFindings";
import { sure } from "../../base/typed";

export type PageHandle = {
  /** Brings a block into view; with focus, its first picture, or its words, has the keyboard then. */
  show: (block: string, focus?: boolean) => void;
  /** Brings a block into view, and the keyboard into its words. */
  write: (block: string) => void;
};

const usual = 300; // pixels that a block is expected to be high

/** The page, and beside it the margin: each remark at the height of what it is about. */
export function Page(props: {
  ref: Ref<PageHandle>;
  rows: Row[];
  numbers: Numbers;
  findings: Findings;
  others: Record<string, Other>;
  settle: Settle;
  chosen: ReadonlySet<string>;
  writing: string | undefined;
  commenting: Commenting;
  /** Writes the words that a comment suggests. */
  onTake: (thread: Thread) => void;
  /** Who else has the document open. */
  present: Present[];
  title: ReactNode;
  children: ReactNode;
}) {
  const { rows: all, numbers, findings, writing, others, chosen } = props;
  const { draft, uploads, onWriting } = useDesk();
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const fold = useCallback((id: string, on?: boolean) => {
    setFolded((was) => {
      const next = new Set(was);
      if (on ?? !was.has(id)) next.add(id);
      else next.delete(id);
      return next;
    });
  }, []);
  const { rows, hidden } = useMemo(() => unfolded(all, folded), [all, folded]);
  const place = useMemo(() => new Map(all.map((r, i) => [r.id, i])), [all]);
  const list = useRef<HTMLOListElement>(null);
  const [above, setAbove] = useState(0);
  useLayoutEffect(() => setAbove(list.current?.offsetTop ?? 0), []);
  const written = rows.findIndex((r) => r.id === writing);
  const cells = useWindowVirtualizer({
    count: rows.length,
    estimateSize: () => usual,
    overscan: 6,
    scrollMargin: above,
    scrollPaddingStart: rem(6.6), // what stays at the top, and a little
    getItemKey: (i) => rows[i]?.id ?? i,
    // What is written stays, however far the page is scrolled.
    rangeExtractor: (range) =>
      written < 0
        ? defaultRangeExtractor(range)
        : [...new Set([...defaultRangeExtractor(range), written])].sort((a, b) => a - b),
  });
  const wanted = useRef<{ block: string; focus?: boolean }>(undefined);
  const show = (block: string, focus?: boolean) => {
    const over = [...hidden].find(([, inside]) => inside.some((r) => r.id === block));
    if (over) fold(over[0], false);
    const at = rows.findIndex((r) => r.id === (over?.[0] ?? block));
    wanted.current = at < 0 ? { block, focus } : undefined;
    if (at < 0) return; // it was made just now, and is shown as soon as it is among the rows
    cells.scrollToIndex(at, { align: "start" });
    if (focus) focusOn(block);
  };
  const write = (block: string) => {
    const row = all.find((r) => r.id === block);
    const words = row?.content.type === "step" || row?.content.type === "passage";
    show(block, !words);
    if (words) onWriting(block);
  };
  useImperativeHandle(props.ref, () => ({ show, write }));
  const next = useRef<(block: string, by: 1 | -1) => void>(() => undefined);
  useLayoutEffect(() => {
    next.current = (block, by) => {
      const to = rows[rows.findIndex((r) => r.id === block) + by];
      if (!to || to.content.type === "chapter") return;
      if (to.content.type === "section") focusOn(to.id);
      else onWriting(to.id);
      cells.scrollToIndex(rows.indexOf(to), { align: "auto" });
    };
  });
  const goNext = useCallback((block: string, by: 1 | -1) => next.current(block, by), []);
  useLayoutEffect(() => {
    const { block, focus } = wanted.current ?? {};
    if (block && rows.some((r) => r.id === block)) show(block, focus);
  });
  const seen = cells.getVirtualItems();
  const first = seen[0];
  const end = seen[seen.length - 1];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_15rem]">
      <div className="min-w-0">
        {props.title}
        <ol
          ref={list}
          className="[overflow-anchor:none]" // who knows how tall rows are keeps the place, and nobody else
          style={{
            paddingTop: (first?.start ?? above) - above,
            paddingBottom: cells.getTotalSize() - ((end?.end ?? above) - above),
          }}
        >
          {seen.map((v) => {
            const row = rows[v.index];
            const inside = row && hidden.get(row.id);
            if (row?.content.type === "section") {
              return (
                <SectionRow
                  key={row.id}
                  row={row}
                  index={place.get(row.id) ?? v.index}
                  seen={v.index}
                  number={numbers.blocks[row.id] ?? ""}
                  folded={inside?.filter((r) => r.content.type === "step").length}
                  onFold={fold}
                  onNext={goNext}
                  measure={cells.measureElement}
                />
              );
            }
            if (row?.content.type === "chapter") {
              return (
                <ChapterRow
                  key={row.id}
                  row={row}
                  index={place.get(row.id) ?? v.index}
                  seen={v.index}
                  count={all.length}
                  number={numbers.blocks[row.id] ?? ""}
                  other={others[row.content.document ?? ""]}
                  measure={cells.measureElement}
                />
              );
            }
            return (
              row && (
                <StepRow
                  key={row.id}
                  measure={cells.measureElement}
                  row={row}
                  index={place.get(row.id) ?? v.index}
                  seen={v.index}
                  count={all.length}
                  {...neighbours(all, place.get(row.id) ?? v.index)}
                  does={others[row.content.document ?? ""]}
                  chosen={chosen.has(row.id)}
                  choosing={chosen.size > 0}
                  numbers={numbers}
                  pictures={row.content.figures
                    .map((f) => {
                      const up = uploads.get(f.shot);
                      return `${f.shot}${up?.progress}${up?.error}${up?.size?.w}${draft.shots.has(f.shot)}`;
                    })
                    .join()}
                  writing={v.index === written}
                  by={byOf(props.present, row.id)}
                  onNext={goNext}
                />
              )
            );
          })}
        </ol>
        <div className="flex flex-wrap items-center gap-3 bg-paper px-4 pt-5 pb-10">{props.children}</div>
      </div>
      <Margin
        seen={seen}
        rows={rows}
        place={place}
        numbers={numbers}
        findings={findings}
        settle={props.settle}
        commenting={props.commenting}
        onTake={props.onTake}
      />
      <Marked threads={props.commenting.threads} />
    </div>
  );
}

/** The steps next to a block, across headings. */
function neighbours(all: Row[], at: number) {
  const isStep = (r: Row | undefined) => r?.content.type === "step";
  let above = at - 1;
  while (above >= 0 && !isStep(all[above])) above--;
  let below = at + 1;
  while (below < all.length && !isStep(all[below])) below++;
  return { above: all[above]?.id, below: all[below]?.id, joins: isStep(all[at - 1]) };
}

/** The blocks that are seen, and what is hidden under each heading that is folded. */
function unfolded(all: Row[], folded: ReadonlySet<string>) {
  const hidden = new Map<string, Row[]>();
  const rows: Row[] = [];
  for (let i = 0; i < all.length; i++) {
    const row = sure(all[i]);
    rows.push(row);
    if (!folded.has(row.id)) continue;
    const span = core.span(all, i);
    hidden.set(row.id, all.slice(i + 1, i + span));
    i += span - 1;
  }
  return { rows, hidden };
}
