import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import type { Account } from "../../base/api/client";
import { core } from "../../base/core/core";
import { useKeys } from "../../base/keys/useKeys";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import { useAsked } from "../../parts/answers/useInbox";
import { takeInHand } from "../../parts/capture/after";
import type { Draft } from "../../parts/document/draft";
import { pictureOf as pictureIn } from "../../parts/document/picture";
import { settleIn } from "../../parts/document/settle";
import type { Uploads } from "../../parts/document/uploads";
import { useActions } from "../../parts/document/useActions";
import { useChosen } from "../../parts/document/useChosen";
import { useChanges } from "../../parts/document/useDraft";
import { useUndo } from "../../parts/document/useUndo";
import { styleOf, useHouseStyles } from "../../parts/house/useHouseStyles";
import { TakeOver } from "../../parts/presence/TakeOver";
import { usePresence } from "../../parts/presence/usePresence";
import { useReplacement } from "../../parts/stage/useReplacement";
import { targetsOf, useAround } from "../../parts/words/useAround";
import { AddBelow } from "./AddBelow";
import { Bar } from "./Bar";
import { Chosen } from "./Chosen";
import { Around } from "./Around";
import type { Desk } from "./desk";
import { Dialogs, type Over } from "./Dialogs";
import { Dragging } from "./Dragging";
import { Outline } from "./Outline";
import { Page, type PageHandle } from "./Page";
import { PictureHere } from "./PictureHere";
import { Title } from "./Title";
import { ToPlace } from "./ToPlace";
import { useBringIn } from "./useBringIn";
import { useFilesFor } from "./useFilesFor";
import { useFindings } from "./useFindings";
import { useNextFinding } from "./useNextFinding";
import { useOpened } from "./useOpened";
import { useShotsIn } from "./useShotsIn";
import { useSaid } from "./useSaid";

type Opening = { id: string; account: Account; draft: Draft; uploads: Uploads };

/** The manuscript: the page between what it is made from and what is said of it. */
export function Editor({ id, account, draft, uploads }: Opening) {
  useChanges({ draft, uploads });
  useTitle(shown(draft.title));
  useEffect(() => takeInHand(id, draft.title), [id, draft.title]);
  const [search] = useSearchParams();
  const [writing, write] = useState(search.get("write") ?? undefined);
  const presence = usePresence(id, account, writing, () => write(undefined));
  const { mayWrite } = presence;
  const setWriting = useCallback((block: string | undefined) => mayWrite(block) && write(block), [mayWrite]);
  const leaveWriting = useCallback((block: string) => write((now) => (now === block ? undefined : now)), []);
  const [over, setOver] = useState<Over | undefined>(search.has("send") ? "sending" : undefined);
  const page = useRef<PageHandle>(null);
  const replacement = useReplacement();
  const rows = draft.blocks();
  const numbers = core.numbers(rows, draft.facts.counting);
  const pictureOf = useCallback((shot: string) => pictureIn(shot, draft, uploads), [draft, uploads]);
  const { others, shown: known, names } = useAround(id, draft, rows, numbers);
  const findings = useFindings(id, draft.kind, draft.facts, rows, pictureOf, others, draft.seen);
  const styles = useHouseStyles();
  const style = styleOf(styles.data, draft.facts)?.style;
  const layout = draft.facts.layout || style?.layout || "running";
  const settle = useMemo(() => settleIn(draft, () => layout), [draft, layout]);
  const travel = useUndo(draft);
  const opened = useOpened(rows, page, setWriting);
  const { picture } = opened;

  const navigate = useNavigate();
  const notice = useNotice();
  const { asked } = useAsked(id);
  const bringIn = useBringIn(
    draft,
    uploads,
    () => picture?.row.id ?? writing,
    picture || draft.kind !== "procedure"
      ? undefined // a picture is open, and the page is not seen; or there are no steps here
      : (block) => {
          requestAnimationFrame(() => page.current?.show(block));
          notice({ text: "Each line is a step now.", action: { label: "Undo", run: () => travel("undo") } });
        },
    !!asked,
  );
  const files = useFilesFor((all, block) => bringIn(all, undefined, block));
  const actions = useActions({
    draft,
    uploads,
    travel,
    onWriting: setWriting,
    onSection: (id) => page.current?.show(id, true),
    onOpen: opened.openPicture,
    onAddPictures: files.ask,
    onCapture: (step) => void navigate(`/capture?document=${id}&step=${step}`),
    onLink: (links) => setOver({ links }),
    onWebLink: (beside) => setOver({ links: { beside } }),
  });
  const unplaced = useShotsIn(id, draft, rows, writing, page);

  const goTo = useCallback((block: string) => page.current?.show(block, true), []);
  const { commenting, pinned, take, takeAll } = useSaid(id, draft, rows, page);
  useNextFinding(rows, findings.all, goTo);
  useKeys("The document", moving);
  const chosen = useChosen(rows);
  const refer = useMemo(() => ({ names, targets: () => targetsOf(id, draft, numbers) }), [names, id, draft, numbers]);
  const inManual = draft.kind === "manual";
  const { choose: onChoose } = chosen;
  const desk = useMemo<Desk>(
    () => ({
      ...{ id, draft, uploads, inManual, actions, pictureOf, style, layout },
      ...{ onWriting: setWriting, onLeft: leaveWriting, onChoose },
    }),
    [id, draft, uploads, inManual, actions, pictureOf, style, layout, setWriting, leaveWriting, onChoose],
  );
  const must = findings.all.filter((f) => f.severity === "must-fix").length;
  return (
    <Around desk={desk} refer={refer} comment={commenting.begin} pinned={pinned}>
      <Bar
        id={id}
        account={account}
        draft={draft}
        must={must}
        findings={findings.all}
        travel={travel}
        commenting={commenting}
        present={presence.others}
        onTakeAll={takeAll}
        onHistory={() => setOver("history")}
        onSend={() => setOver("sending")}
        onUse={() => setOver("using")}
      />
      {picture ? (
        <PictureHere {...{ picture, opened, rows, numbers, replacement, travel }} />
      ) : (
        <Dragging rows={rows} onMove={actions.move} onPlace={(shot, at) => void unplaced.place(shot, at)}>
          <div className="grid grid-cols-[13.5rem_minmax(0,1fr)]">
            <div className="sticky top-(--bar) flex h-[calc(100dvh-var(--bar))] flex-col border-r border-line">
              <Outline
                rows={rows}
                numbers={numbers}
                findings={findings.all}
                must={must}
                others={known}
                onFindings={() => setOver("findings")}
                onGo={opened.goFromOutline}
              />
              {!inManual && draft.kind !== "filed" && <ToPlace unplaced={unplaced} />}
            </div>
            <main className="min-h-[calc(100dvh-var(--bar))] min-w-0">
              <Page
                ref={page}
                title={<Title id={id} draft={draft} />}
                present={presence.others}
                others={known}
                chosen={chosen.ids}
                onTake={take}
                {...{ rows, numbers, findings, settle, writing, commenting }}
              >
                <AddBelow
                  rows={rows}
                  travel={travel}
                  onPictures={bringIn}
                  onReplace={(first) => {
                    replacement.walk(true);
                    opened.openPicture(first);
                  }}
                />
              </Page>
              {chosen.rows.length > 0 && (
                <Chosen id={id} draft={draft} chosen={chosen.rows} travel={travel} onDone={chosen.none} />
              )}
            </main>
          </div>
        </Dragging>
      )}
      {presence.asked && (
        <TakeOver
          name={presence.asked.name}
          step={numbers.blocks[presence.asked.at] ?? ""}
          onTake={() => {
            presence.take();
            write(presence.asked?.at);
          }}
          onWait={presence.wait}
        />
      )}
      {over && (
        <Dialogs
          {...{ over, rows, numbers, settle }}
          findings={findings.all}
          onGo={goTo}
          onDone={() => setOver(undefined)}
        />
      )}
      {files.input}
    </Around>
  );
}

const moving = [{ keys: ["Alt+Up", "Alt+Down"], does: "Move the step that has the keyboard" }];
