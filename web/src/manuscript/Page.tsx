import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { defaultRangeExtractor } from "@tanstack/react-virtual";
import { type ReactNode, type Ref, useImperativeHandle, useLayoutEffect, useRef, useState } from "react";
import type { Numbers } from "../core/core";
import type { Draft } from "./draft";
import { Anchored } from "./Anchored";
import { Conflict } from "./Conflict";
import { Remark } from "./Remark";
import type { Row } from "./model";
import type { Picture } from "./picture";
import { StepRow } from "./StepRow";
import type { Uploads } from "./uploads";
import type { StepActions } from "./useActions";
import type { Findings } from "./useFindings";

export type PageHandle = {
  /** Brings a block into view; with focus, its first picture, or its words, has the keyboard then. */
  show: (block: string, focus?: boolean) => void;
};

const usual = 300; // pixels that a block is expected to be high

/** The page, and beside it the margin: each remark at the height of what it is about. */
export function Page(props: {
  ref: Ref<PageHandle>;
  rows: Row[];
  numbers: Numbers;
  actions: StepActions;
  draft: Draft;
  uploads: Uploads;
  pictureOf: (shot: string) => Picture;
  findings: Findings;
  writing: string | undefined;
  onWriting: (id: string | undefined) => void;
  title: ReactNode;
  children: ReactNode;
}) {
  const { rows, numbers, actions, draft, uploads, findings, writing } = props;
  const list = useRef<HTMLOListElement>(null);
  const [above, setAbove] = useState(0);
  useLayoutEffect(() => setAbove(list.current?.offsetTop ?? 0), []);
  const written = rows.findIndex((r) => r.id === writing);
  const cells = useWindowVirtualizer({
    count: rows.length,
    estimateSize: () => usual,
    overscan: 6,
    scrollMargin: above,
    scrollPaddingStart: 56,
    getItemKey: (i) => rows[i]?.id ?? i,
    // What is written stays, however far the page is scrolled.
    rangeExtractor: (range) =>
      written < 0
        ? defaultRangeExtractor(range)
        : [...new Set([...defaultRangeExtractor(range), written])].sort((a, b) => a - b),
  });
  useImperativeHandle(props.ref, () => ({
    show: (block, focus) => {
      const at = rows.findIndex((r) => r.id === block);
      if (at < 0) return;
      cells.scrollToIndex(at, { align: "start" });
      if (focus) setTimeout(() => focusOn(block), 60); // it is on the page then
    },
  }));
  const seen = cells.getVirtualItems();
  const first = seen[0];
  const end = seen[seen.length - 1];
  const remarks = [
    ...findings.all.filter((f) => !f.block).map((f) => ({ key: f.rule, at: 0, node: <Remark finding={f} /> })),
    ...seen.flatMap((v) => {
      const row = rows[v.index];
      if (!row) return [];
      const at = v.start;
      const theirs = draft.conflicts.get(row.id);
      return [
        ...(theirs
          ? [
              {
                key: `conflict ${row.id}`,
                at,
                node: (
                  <Conflict
                    number={numbers.blocks[row.id] ?? ""}
                    numbers={numbers}
                    mine={row.content}
                    theirs={theirs}
                    settle={(choice) => actions.settle(row.id, choice)}
                  />
                ),
              },
            ]
          : []),
        ...findings.of(row.id).map((f) => ({
          key: `${row.id} ${f.rule} ${f.figure ?? ""}`,
          at,
          node: <Remark finding={f} onWrite={() => props.onWriting(row.id)} onOpen={actions.open} />,
        })),
      ];
    }),
  ];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_17rem]">
      <div className="min-w-0">
        {props.title}
        <ol
          ref={list}
          style={{
            paddingTop: (first?.start ?? above) - above,
            paddingBottom: cells.getTotalSize() - ((end?.end ?? above) - above),
          }}
        >
          {seen.map((v) => {
            const row = rows[v.index];
            return (
              row && (
                <StepRow
                  key={row.id}
                  measure={cells.measureElement}
                  row={row}
                  index={v.index}
                  count={rows.length}
                  numbers={numbers}
                  actions={actions}
                  pictureOf={props.pictureOf}
                  pictures={row.content.figures
                    .map((f) => {
                      const up = uploads.get(f.shot);
                      return `${f.shot}${up?.progress}${up?.error}${up?.size?.w}${draft.shots.has(f.shot)}`;
                    })
                    .join()}
                  writing={v.index === written}
                  onWriting={props.onWriting}
                />
              )
            );
          })}
        </ol>
        <div className="flex flex-wrap items-center gap-3 bg-paper px-5 pt-5 pb-10">{props.children}</div>
      </div>
      <Anchored label="Remarks" remarks={remarks} />
    </div>
  );
}

function focusOn(block: string) {
  const row = document.querySelector(`[data-block="${CSS.escape(block)}"]`);
  row?.querySelector<HTMLElement>("button[data-figure], [data-words] button")?.focus({ preventScroll: true });
}
