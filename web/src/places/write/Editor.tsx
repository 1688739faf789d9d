import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Account, type Thread, type Content, movingTypes, pictureTypes } from "../../base/api/client";
import { PickDocument } from "../../base/ui/PickDocument";
import { Refer } from "../../parts/words/refer";
import { WebLinkDialog } from "./Beside";
import { Chosen } from "./Chosen";
import { asksOf } from "../../base/api/kinds";
import { leadingTo, saying, withFigures } from "../../base/api/content";
import { targetsOf, useAround } from "../../parts/words/useAround";
import { FindingsList } from "./FindingsList";
import { Repeats } from "./Repeats";
import { settleIn } from "../../parts/document/settle";
import { useChosen } from "../../parts/document/useChosen";
import { useNextFinding } from "./useNextFinding";
import { takeInto } from "../../parts/capture/into";
import { takePlacing } from "../../parts/capture/placing";
import { core } from "../../base/core/core";
import type { Item } from "../../parts/shots/shots";
import { UseAnswer } from "../../parts/answers/UseAnswer";
import { useAsked } from "../../parts/answers/useInbox";
import { takeInHand } from "../../parts/capture/after";
import { Attachments } from "../../parts/reports/Attachments";
import { SendTo } from "../../parts/receivers/SendTo";
import { Stage } from "../../parts/stage/Stage";
import { useReplacement } from "../../parts/stage/useReplacement";
import { joins } from "../../parts/stage/useStage";
import { Button, ChooseFiles } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import { Bar } from "./Bar";
import { Checked } from "./Checked";
import { Dragging } from "./Dragging";
import type { Draft } from "../../parts/document/draft";
import { Comment, Pinned, useCommenting, useNextComment } from "../../parts/comments/commenting";
import { History } from "./History";
import { Outline } from "./Outline";
import { Page, type PageHandle } from "./Page";
import { pictureOf } from "../../parts/document/picture";
import { Shown } from "./Shown";
import { Title } from "./Title";
import { styleOf, useHouseStyles } from "../../parts/house/useHouseStyles";
import { ToPlace, useUnplaced } from "./ToPlace";
import type { Uploads } from "../../parts/document/uploads";
import { type Linked, useActions } from "../../parts/document/useActions";
import { useBringIn } from "./useBringIn";
import { useChanges } from "../../parts/document/useDraft";
import { useFindings } from "./useFindings";
import { TakeOver } from "../../parts/presence/TakeOver";
import { usePresence } from "../../parts/presence/usePresence";
import { useSuggestions } from "./useSuggestions";
import { useUndo } from "../../parts/document/useUndo";

/** The manuscript: the page between what it is made from and what is said of it. */
export function Editor({
  id,
  account,
  draft,
  uploads,
}: {
  id: string;
  account: Account;
  draft: Draft;
  uploads: Uploads;
}) {
  useChanges({ draft, uploads });
  useTitle(shown(draft.title));
  useEffect(() => takeInHand(id, draft.title), [id, draft.title]);
  useEffect(() => {
    window.history.scrollRestoration = "manual"; // the address says which step is looked at, more exactly than pixels
    return () => void (window.history.scrollRestoration = "auto");
  }, []);
  const [search, setSearch] = useSearchParams();
  const [writing, write] = useState(search.get("write") ?? undefined);
  const presence = usePresence(id, account, writing, () => write(undefined));
  const { others: present, mayWrite } = presence;
  const setWriting = useCallback((block: string | undefined) => mayWrite(block) && write(block), [mayWrite]);
  const leaveWriting = useCallback((block: string) => write((now) => (now === block ? undefined : now)), []);
  const [history, setHistory] = useState(false);
  const page = useRef<PageHandle>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const filesFor = useRef<string>(undefined);
  const replacement = useReplacement();
  const rows = draft.blocks();
  const numbers = core.numbers(rows, draft.facts.counting);
  const picture = useCallback((shot: string) => pictureOf(shot, draft, uploads), [draft, uploads]);
  const { others, shown: known, names } = useAround(id, draft, rows, numbers);
  const findings = useFindings(id, draft.kind, draft.facts, rows, picture, others, draft.seen);
  const styles = useHouseStyles();
  const style = styleOf(styles.data, draft.facts)?.style;
  const layout = draft.facts.layout || style?.layout || "running";
  const settle = useMemo(() => settleIn(draft, () => layout), [draft, layout]);
  const travel = useUndo(draft);

  // Which picture is open, and which block one was sent to, is in the address: links lead there, and Back works.
  const figure = search.get("picture");
  const open = figure ? rows.find((r) => r.content.figures.some((f) => f.id === figure)) : undefined;
  const openPicture = useCallback(
    (id: string) => {
      setWriting(undefined);
      setSearch({ picture: id });
    },
    [setSearch, setWriting],
  );
  const close = () => {
    if (open) setSearch({ block: open.id });
  };
  const target = search.get("block");
  const toWrite = useRef<string>(undefined); // it was chosen in the outline
  useEffect(() => {
    if (!target || figure) return;
    if (toWrite.current === target) page.current?.write(target);
    else page.current?.show(target, true);
    toWrite.current = undefined;
  }, [target, figure]);

  const navigate = useNavigate();
  const notice = useNotice();
  const { asked } = useAsked(id);
  const bringIn = useBringIn(
    draft,
    uploads,
    () => open?.id ?? writing,
    open || draft.kind !== "procedure"
      ? undefined // a picture is open, and the page is not seen; or there are no steps here
      : (block) => {
          requestAnimationFrame(() => page.current?.show(block));
          notice({ text: "Each line is a step now.", action: { label: "Undo", run: () => travel("undo") } });
        },
    !!asked,
  );
  const [linking, setLinking] = useState<Linked>();
  const [webLink, setWebLink] = useState<string>();
  const linked = (document: string) => {
    if (!linking) return;
    if ("before" in linking) draft.insert("Add a chapter", linking.before, [leadingTo("chapter", document)]);
    else
      draft.patch("Lead to another procedure", [linking.block], ({ content }) => ({
        ...content,
        document,
        revision: undefined,
      }));
  };
  const actions = useActions({
    draft,
    uploads,
    travel,
    onWriting: setWriting,
    onSection: (id) => page.current?.show(id, true),
    onOpen: openPicture,
    onAddPictures: (block) => {
      filesFor.current = block;
      chooser.current?.click();
    },
    onCapture: (step) => void navigate(`/capture?document=${id}&step=${step}`),
    onLink: setLinking,
    onWebLink: setWebLink,
  });

  const bringShots = useCallback(
    (steps: Content[], items: Item[], at: number) => {
      items.forEach((i) => draft.shotArrived({ id: i.id, name: i.name, width: i.width, height: i.height }));
      const label = steps.length === 1 ? "Place a shot" : `Place ${steps.length} shots`;
      const [first] = draft.insert(label, at, steps);
      if (first) requestAnimationFrame(() => page.current?.show(first));
    },
    [draft],
  );
  useEffect(() => {
    const p = takePlacing(id);
    if (p) bringShots(p.steps, p.shots, p.after);
  }, [id, bringShots]);
  useEffect(() => {
    const taken = takeInto(id);
    if (!taken) return;
    const { content, item } = taken;
    draft.shotArrived({ id: item.id, name: item.name, width: item.width, height: item.height });
    draft.patch("Take a shot for a step", [taken.step], (step) => ({
      ...step.content,
      words: core.empty(step.content.words) ? content.words : step.content.words,
      figures: [...step.content.figures, ...content.figures],
    }));
  }, [id, draft]);
  const unplaced = useUnplaced(rows, (steps, items, at) => {
    const here = rows.findIndex((r) => r.id === writing);
    bringShots(steps, items, at ?? (here >= 0 ? here + 1 : rows.length));
  });

  const commenting = useCommenting(id);
  const goToComment = useCallback((t: Thread) => {
    if (t.place.block) page.current?.show(t.place.block);
    setTimeout(() => document.querySelector<HTMLElement>(`[data-thread="${t.id}"]`)?.focus(), 120); // it is there then
  }, []);
  const order = useMemo(() => rows.map((r) => r.id), [rows]);
  useNextComment(commenting.threads, order, goToComment);
  const pinned = useMemo(() => ({ threads: commenting.threads, onGo: goToComment }), [commenting.threads, goToComment]);
  const { take, takeAll } = useSuggestions(id, draft, commenting.threads);
  const [listing, setListing] = useState(false);
  const [sending, setSending] = useState(search.has("send"));
  const [using, setUsing] = useState(false);
  const goFromOutline = useCallback(
    (block: string) => {
      if (block === target) return page.current?.write(block);
      toWrite.current = block;
      setSearch({ block });
    },
    [target, setSearch],
  );
  const goTo = useCallback((block: string) => page.current?.show(block, true), []);
  useNextFinding(rows, findings.all, goTo);
  const chosen = useChosen(rows);
  const refer = useMemo(() => ({ names, targets: () => targetsOf(id, draft, numbers) }), [names, id, draft, numbers]);
  const inManual = draft.kind === "manual";
  const isFiled = draft.kind === "filed";
  const must = findings.all.filter((f) => f.severity === "must-fix").length;
  const pictured = rows.find((r) => r.content.figures.length > 0);
  const webLinked = rows.find((r) => r.id === webLink);
  return (
    <Refer.Provider value={refer}>
      <Comment.Provider value={commenting.begin}>
        <Pinned.Provider value={pinned}>
          <Bar
            id={id}
            account={account}
            draft={draft}
            must={must}
            findings={findings.all}
            travel={travel}
            commenting={commenting}
            present={present}
            onTakeAll={takeAll}
            onHistory={() => setHistory(true)}
            onSend={() => setSending(true)}
            onUse={() => setUsing(true)}
          />
          {open && figure ? (
            <Stage
              rows={rows}
              row={open}
              figureID={figure}
              numbers={numbers}
              picture={picture}
              onFigure={(label, change) =>
                draft.patch(
                  label,
                  [open.id],
                  ({ content }) => withFigures(content, (f) => (f.id === figure ? change(f) : f)),
                  joins(label),
                )
              }
              onSay={(text) => {
                draft.patch("Put text into the words", [open.id], ({ content }) => saying(content, text));
                notice({ text: "It stands in the words.", action: { label: "Undo", run: () => travel("undo") } });
              }}
              onFigures={(label, change) => draft.patchAll(label, ({ content }) => withFigures(content, change))}
              onShot={(shot) => draft.shotArrived(shot)}
              replacement={replacement}
              onOpen={(id) => setSearch({ picture: id }, { replace: true })}
              onClose={close}
            />
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
                    onFindings={() => setListing(true)}
                    onGo={goFromOutline}
                  />
                  {!inManual && !isFiled && <ToPlace unplaced={unplaced} />}
                </div>
                <main className="min-h-[calc(100dvh-var(--bar))] min-w-0">
                  <Page
                    ref={page}
                    rows={rows}
                    numbers={numbers}
                    actions={actions}
                    draft={draft}
                    uploads={uploads}
                    pictureOf={picture}
                    findings={findings}
                    others={known}
                    settle={settle}
                    style={style}
                    layout={layout}
                    chosen={chosen.ids}
                    onChoose={chosen.choose}
                    writing={writing}
                    onWriting={setWriting}
                    onLeft={leaveWriting}
                    present={present}
                    onTake={take}
                    document={id}
                    commenting={commenting}
                    title={<Title id={id} draft={draft} />}
                  >
                    {isFiled ? (
                      <span className="text-soft">
                        This is a filed PDF. Its pages stand under Follow; there it can also be rewritten as a
                        procedure.
                      </span>
                    ) : inManual ? (
                      <Button look="main" onClick={() => actions.link({ before: rows.length })}>
                        Add a chapter
                      </Button>
                    ) : (
                      <>
                        <ChooseFiles
                          label="Add pictures"
                          accept={`${pictureTypes},${movingTypes}`}
                          many
                          look="main"
                          onFiles={(files) => bringIn(files)}
                        />
                        <Button onClick={() => actions.insert(rows.length)}>Add a step without a picture</Button>
                      </>
                    )}
                    {!isFiled && !asksOf(draft.kind) && (
                      <Button onClick={() => actions.section(rows.length)}>Begin a section</Button>
                    )}
                    {!isFiled && <Button onClick={() => actions.passage(rows.length)}>Add a passage</Button>}
                    {asksOf(draft.kind) && <Attachments id={id} />}
                    {pictured && (
                      <Button
                        title="The program was updated: give each picture a new shot, one after the other"
                        onClick={() => {
                          replacement.walk(true);
                          openPicture(pictured.content.figures[0]?.id ?? "");
                        }}
                      >
                        Replace the pictures
                      </Button>
                    )}
                    <Shown draft={draft} />
                    <Checked id={id} draft={draft} />
                    <Repeats id={id} draft={draft} travel={travel} />
                    {!inManual && !isFiled && (
                      <span className="text-soft">Or paste anywhere, or drop files between steps.</span>
                    )}
                  </Page>
                  {chosen.rows.length > 0 && (
                    <Chosen id={id} draft={draft} chosen={chosen.rows} travel={travel} onDone={chosen.none} />
                  )}
                </main>
              </div>
            </Dragging>
          )}
          {using && <UseAnswer id={id} onDone={() => setUsing(false)} />}
          {sending && (
            <SendTo
              id={id}
              seq={draft.seen}
              saved={draft.status.kind === "saved"}
              findings={findings.all}
              to={search.get("send") ?? undefined}
              onDone={() => setSending(false)}
            />
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
          {listing && (
            <FindingsList
              findings={findings.all}
              numbers={numbers}
              settle={settle}
              onGo={(block) => {
                setListing(false);
                requestAnimationFrame(() => goTo(block));
              }}
              onDone={() => setListing(false)}
            />
          )}
          {linking && (
            <PickDocument
              title={inManual ? "Add a procedure as a chapter" : "Do another procedure here"}
              kind="procedure"
              without={[id, ...(inManual ? rows.flatMap((r) => r.content.document ?? []) : [])]}
              onDone={(d) => {
                setLinking(undefined);
                if (d) linked(d.id);
              }}
            />
          )}
          {webLinked && (
            <WebLinkDialog
              onDone={(link) => {
                setWebLink(undefined);
                if (link)
                  draft.patch("Add a web link", [webLinked.id], ({ content }) => ({
                    ...content,
                    beside: [...(content.beside ?? []), link],
                  }));
              }}
            />
          )}
          {history && (
            <History
              document={id}
              title={draft.title}
              seq={draft.seen}
              settled={draft.status.kind === "saved"}
              onDone={() => setHistory(false)}
            />
          )}
          <input
            ref={chooser}
            type="file"
            className="hidden"
            multiple
            tabIndex={-1}
            aria-label="Pictures for this step"
            accept={`${pictureTypes},${movingTypes}`}
            onChange={(e) => {
              bringIn([...(e.target.files ?? [])], undefined, filesFor.current);
              e.target.value = "";
            }}
          />
        </Pinned.Provider>
      </Comment.Provider>
    </Refer.Provider>
  );
}
