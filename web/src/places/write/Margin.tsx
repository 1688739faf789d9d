import type { VirtualItem } from "@tanstack/react-virtual";
import type { Thread } from "../../base/api/client";
import type { Numbers } from "../../base/core/core";
import { aboutPicture } from "../../parts/comments/aboutPicture";
import { Begun } from "../../parts/comments/Begun";
import type { Commenting } from "../../parts/comments/commenting";
import { rangeOf, stillThere } from "../../parts/comments/marked";
import { ThreadView } from "../../parts/comments/ThreadView";
import type { Row } from "../../parts/document/model";
import type { Settle } from "../../parts/document/settle";
import { Anchored } from "./Anchored";
import { Conflict } from "./Conflict";
import { useDesk } from "./desk";
import { focusOn } from "./focusOn";
import { Refused } from "./Refused";
import { Remark } from "./Remark";
import type { Findings } from "./useFindings";

/** What is said of the blocks that are seen, each at the height of what it is about. */
export function Margin(props: {
  seen: VirtualItem[];
  rows: Row[];
  /** The places of all blocks, by their ids; what is not among them is gone. */
  place: ReadonlyMap<string, number>;
  numbers: Numbers;
  findings: Findings;
  settle: Settle;
  commenting: Commenting;
  /** Writes the words that a comment suggests. */
  onTake: (thread: Thread) => void;
}) {
  const { seen, rows, place, numbers, findings, settle, commenting, onTake } = props;
  const { id, draft, actions, onWriting } = useDesk();
  const said = (block: string | undefined, at: number, row?: Row) => [
    ...(commenting.begun && commenting.begun.block === block
      ? [
          {
            key: `begun ${block}`,
            at,
            node: <Begun document={id} place={commenting.begun} onDone={commenting.end} />,
          },
        ]
      : []),
    ...commenting.threads
      .filter((t) => (block ? t.place.block === block : !t.place.block || !place.has(t.place.block)))
      .map((t) => ({
        key: `thread ${t.id}`,
        at,
        node: (
          <ThreadView
            document={id}
            thread={t}
            about={
              t.place.figure
                ? aboutPicture(t.place)
                : block
                  ? ""
                  : t.place.block
                    ? "About a step that is gone"
                    : "About the document"
            }
            lost={!row || !stillThere(t, row.content.words)}
            onTake={row && onTake}
            onGo={() =>
              rangeOf(t)?.startContainer.parentElement?.scrollIntoView({ block: "center", behavior: "smooth" })
            }
          />
        ),
      })),
  ];
  const refused = new Set(draft.refusals().map((r) => r.id));
  const remarks = [
    // What was deleted is not on the page.
    ...[...refused]
      .filter((id) => id !== "" && !place.has(id))
      .map((id) => ({ key: `refused ${id}`, at: 0, node: <Refused draft={draft} id={id} what="What was deleted" /> })),
    ...said(undefined, 0),
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
        ...(refused.has(row.id)
          ? [
              {
                key: `refused ${row.id}`,
                at,
                node: <Refused draft={draft} id={row.id} what={`This ${row.content.type}`} />,
              },
            ]
          : []),
        ...said(row.id, at, row),
        ...findings.of(row.id).map((f) => ({
          key: `${row.id} ${f.rule} ${f.figure ?? ""}`,
          at,
          node: (
            <Remark
              finding={f}
              settle={settle}
              onWrite={() => (row.content.type === "section" ? focusOn(row.id) : onWriting(row.id))}
              onLink={() => actions.link({ block: row.id })}
              onOpen={actions.open}
            />
          ),
        })),
      ];
    }),
  ];
  return <Anchored label="Remarks" remarks={remarks} />;
}
