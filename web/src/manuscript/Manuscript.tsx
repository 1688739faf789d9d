import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { Redo2, Undo2 } from "lucide-react";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { type Account, api, type Finding, type Content } from "../api/client";
import { takePlacing } from "../capture/placing";
import type { Item } from "../shots/shots";
import { core, type Numbers } from "../core/core";
import { DocumentTabs, StateBadge, TopBar } from "../shell/TopBar";
import { Stage } from "../stage/Stage";
import { useRenewal } from "../stage/useRenewal";
import { joins } from "../stage/useStage";
import { Blank, Button, ChooseFiles } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { fields } from "../ui/fields";
import { shown } from "../ui/shown";
import type { Draft } from "./draft";
import { History } from "./History";
import { emptyStep, type Row, type Status } from "./model";
import { pictureOf } from "./picture";
import { ManuscriptTray } from "./ManuscriptTray";
import { Margin, type StepActions, StepRow } from "./StepRow";
import type { Uploads } from "./uploads";
import { useBringIn } from "./useBringIn";
import { useChanges, useDraft } from "./useDraft";
import { useFindings } from "./useFindings";

const pictureTypes = "image/png,image/jpeg,image/gif,image/webp,image/bmp,image/tiff";

export function Manuscript({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const { opened, problem } = useDraft(id, account);
  if (problem) {
    return (
      <>
        <TopBar account={account} />
        <Blank title="This document can’t be opened">
          {problem.message}{" "}
          <Link to="/" className="text-action underline">
            Go to the library
          </Link>
        </Blank>
      </>
    );
  }
  if (!opened) return <TopBar account={account} />;
  return <Editor key={id} id={id} account={account} draft={opened.draft} uploads={opened.uploads} />;
}

type Unfolded = { step: string; figure: string };

function Editor({ id, account, draft, uploads }: { id: string; account: Account; draft: Draft; uploads: Uploads }) {
  useChanges({ draft, uploads });
  const notice = useNotice();
  const [writing, setWriting] = useState<string>();
  const [unfolded, setUnfolded] = useState<Unfolded>();
  const renewal = useRenewal();
  const [history, setHistory] = useState(false);
  const filesFor = useRef<string | undefined>(undefined);
  const chooser = useRef<HTMLInputElement>(null);
  const rows = draft.blocks();
  const numbers = core.numbers(rows);
  const bringIn = useBringIn(draft, uploads, () => unfolded?.step ?? writing);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const findings = useFindings(id, draft.facts, rows);
  const picture = useCallback((shot: string) => pictureOf(shot, draft, uploads), [draft, uploads]);

  const bringShots = useCallback(
    (steps: Content[], items: Item[], at: number) => {
      items.forEach((i) => draft.shotArrived({ id: i.id, name: i.name, width: i.width, height: i.height }));
      const label = steps.length === 1 ? "Place a shot" : `Place ${steps.length} shots`;
      const [first] = draft.insert(label, at, steps);
      requestAnimationFrame(() =>
        document.querySelector(`[data-step="${first}"]`)?.scrollIntoView({ block: "center" }),
      );
    },
    [draft],
  );
  useEffect(() => {
    const p = takePlacing(id);
    if (p) bringShots(p.steps, p.shots, p.after);
  }, [id, bringShots]);

  const travel = useCallback(
    (how: "undo" | "redo") => {
      const said = draft[how]();
      if (said) notice({ text: said });
    },
    [draft, notice],
  );
  useLayoutEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.altKey) return;
      const z = e.key.toLowerCase() === "z";
      if ((e.target as HTMLElement).matches(fields)) return;
      if (z || e.key.toLowerCase() === "y") {
        e.preventDefault();
        e.stopPropagation();
        travel(z && !e.shiftKey ? "undo" : "redo");
      }
    };
    addEventListener("keydown", key, true);
    return () => removeEventListener("keydown", key, true);
  }, [travel]);

  const actions = useMemo<StepActions>(() => {
    const step = (id: string) => draft.blocks().find((r) => r.id === id) as Row;
    const without = (row: Row, figure: string) => ({
      order: row.order,
      removed: core.empty(row.content.words) && row.content.figures.length === 1,
      content: { ...row.content, figures: row.content.figures.filter((f) => f.id !== figure) },
    });
    return {
      write: (id, label, content, joins) => draft.write(id, label, content, joins),
      insert: (at) => setWriting(draft.insert("Add a step", at, [emptyStep()])[0]),
      move: (id, to) => draft.move(id, to),
      remove: (id) => {
        draft.remove(id);
        notice({ text: "The step is deleted.", action: { label: "Undo", run: () => travel("undo") } });
      },
      merge: (id, figure, to) => {
        const from = step(id);
        const into = draft.blocks()[to] as Row;
        const moving = from.content.figures.filter((f) => f.id === figure);
        const figures = [...into.content.figures, ...moving];
        draft.edit("Move a picture to another step", [
          { id: into.id, after: { order: into.order, removed: false, content: { ...into.content, figures } } },
          { id, after: without(from, figure) },
        ]);
      },
      unfold: (step, figure) => {
        setWriting(undefined);
        setUnfolded({ step, figure });
      },
      addPictures: (id) => {
        filesFor.current = id;
        chooser.current?.click();
      },
      dropPicture: (id, figure) => {
        const row = step(id);
        const shot = row.content.figures.find((f) => f.id === figure)?.shot;
        draft.edit("Take a picture away", [{ id, after: without(row, figure) }]);
        if (shot && uploads.get(shot)?.error) uploads.drop(shot);
      },
      settle: (id, choice) => draft.settle(id, choice),
    };
  }, [draft, uploads, notice, travel]);

  const markReady = async () => {
    if (draft.status.kind !== "saved") {
      notice({ text: "Some changes are not saved yet. Try again in a moment." });
      return;
    }
    const { data, error } = await api.PUT("/api/documents/{document}/state", {
      params: { path: { document: id } },
      body: { act: "release", seq: draft.seen },
    });
    if (data) {
      draft.markedReady(data.revision);
      notice({ text: `Ready: readers now follow revision ${data.revision}.` });
    } else {
      notice({ text: (error as { message?: string } | undefined)?.message ?? "That did not work. Try again." });
    }
  };

  const open =
    unfolded && rows.find((r) => r.id === unfolded.step && r.content.figures.some((f) => f.id === unfolded.figure));
  const pictured = rows.find((r) => r.content.figures.length > 0);
  const must = findings.all.filter((f) => f.severity === "must-fix").length;
  return (
    <>
      <TopBar account={account}>
        <Link to="/" className="text-mist hover:text-paper">
          Library
        </Link>
        <span className="text-soft" aria-hidden>
          /
        </span>
        <span className="min-w-0 truncate font-bold">{shown(draft.title)}</span>
        <StateBadge state={draft.state} revision={draft.revision} />
        <Button look="dark" className="px-2 text-sm" onClick={() => setHistory(true)}>
          History
        </Button>
        <span className="flex-1" />
        <Saved status={draft.status} />
        <Button
          look="dark"
          className="px-2"
          aria-label="Undo"
          title={draft.canUndo() ? `Undo: ${draft.canUndo()}` : "Nothing to undo"}
          disabled={!draft.canUndo()}
          onClick={() => travel("undo")}
        >
          <Undo2 size={18} aria-hidden />
        </Button>
        <Button
          look="dark"
          className="-ml-3 px-2"
          aria-label="Redo"
          title={draft.canRedo() ? `Redo: ${draft.canRedo()}` : "Nothing to redo"}
          disabled={!draft.canRedo()}
          onClick={() => travel("redo")}
        >
          <Redo2 size={18} aria-hidden />
        </Button>
        <DocumentTabs id={id} account={account} />
        <Button
          look="call"
          disabled={must > 0 || draft.state === "ready"}
          title={must > 0 ? "Fix what must be fixed first" : ""}
          onClick={() => void markReady()}
        >
          {draft.state === "ready" ? "Ready" : "Mark ready"}
        </Button>
      </TopBar>
      {open ? (
        <Stage
          rows={rows}
          row={open}
          figureID={unfolded.figure}
          picture={picture}
          numbers={numbers}
          onChange={(label, content) => draft.write(open.id, label, content, joins(label))}
          onChangeAll={(label, contents) =>
            draft.edit(
              label,
              rows.flatMap((r) => {
                const content = contents.get(r.id);
                return content ? [{ id: r.id, after: { order: r.order, removed: false, content } }] : [];
              }),
            )
          }
          onShot={(shot) => draft.shotArrived(shot)}
          renewal={renewal}
          onUnfold={(step, figure) => setUnfolded({ step, figure })}
          onFold={() => {
            setUnfolded(undefined);
            requestAnimationFrame(() =>
              document.querySelector(`[data-step="${open.id}"]`)?.scrollIntoView({ block: "center" }),
            );
          }}
        />
      ) : (
        <div className="grid grid-cols-[12rem_minmax(0,1fr)]">
          <Outline rows={rows} numbers={numbers} findings={findings.all} must={must} />
          <main className="min-h-[calc(100dvh-3rem)]">
            <div className="grid grid-cols-[minmax(0,1fr)_17rem]">
              <Title draft={draft} />
              <div className="space-y-3 py-4 pr-4 pl-5">
                {findings.all
                  .filter((f) => !f.block)
                  .map((f) => (
                    <Margin key={f.rule} finding={f} />
                  ))}
              </div>
            </div>
            <DndContext
              sensors={sensors}
              collisionDetection={closestCenter}
              onDragEnd={({ active, over }) => {
                const to = rows.findIndex((r) => r.id === over?.id);
                if (to >= 0) draft.move(String(active.id), to);
              }}
            >
              <SortableContext items={rows.map((r) => r.id)} strategy={verticalListSortingStrategy}>
                <ol>
                  {rows.map((row, i) => (
                    <StepRow
                      key={row.id}
                      row={row}
                      index={i}
                      count={rows.length}
                      numbers={numbers}
                      actions={actions}
                      pictureOf={picture}
                      pictures={row.content.figures
                        .map(
                          (f) =>
                            `${f.shot}${uploads.get(f.shot)?.progress}${uploads.get(f.shot)?.error}${uploads.get(f.shot)?.size?.w}${draft.shots.has(f.shot)}`,
                        )
                        .join()}
                      findings={findings.of(row.id)}
                      theirs={draft.conflicts.get(row.id)}
                      writing={writing === row.id}
                      onWriting={setWriting}
                    />
                  ))}
                </ol>
              </SortableContext>
            </DndContext>
            <div className="grid grid-cols-[minmax(0,1fr)_17rem]">
              <div className="flex flex-wrap items-center gap-3 bg-paper px-5 pt-5 pb-10">
                <ChooseFiles
                  label="Add pictures"
                  accept={pictureTypes}
                  many
                  look="main"
                  onFiles={(files) => bringIn(files)}
                />
                <Button onClick={() => actions.insert(rows.length)}>Add a step without a picture</Button>
                {pictured && (
                  <Button
                    title="The program was updated: give each picture a new shot, one after the other"
                    onClick={() => {
                      renewal.walk(true);
                      actions.unfold(pictured.id, pictured.content.figures[0]?.id ?? "");
                    }}
                  >
                    Renew the pictures
                  </Button>
                )}
                <span className="text-soft">Or paste anywhere, or drop files between steps.</span>
              </div>
            </div>
          </main>
        </div>
      )}
      {history && <History document={id} title={draft.title} onDone={() => setHistory(false)} />}
      <ManuscriptTray
        slim={open !== undefined}
        used={rows}
        onPlace={(steps, items, at) => {
          const here = rows.findIndex((r) => r.id === writing);
          bringShots(steps, items, at ?? (here >= 0 ? here + 1 : rows.length));
        }}
      />
      <input
        ref={chooser}
        type="file"
        className="hidden"
        multiple
        tabIndex={-1}
        aria-label="Pictures for this step"
        accept={pictureTypes}
        onChange={(e) => {
          bringIn([...(e.target.files ?? [])], undefined, filesFor.current);
          e.target.value = "";
        }}
      />
    </>
  );
}

function Saved({ status }: { status: Status }) {
  const time = (at: Date) => at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  const text = {
    saved: () => (status.kind === "saved" && status.at ? `Saved ${time(status.at)}` : "Saved"),
    saving: () => "Saving …",
    kept: () => (status.kind === "kept" ? `${status.why}. Kept in this browser.` : ""),
    conflict: () => "Choose between two versions",
  }[status.kind]();
  return (
    <span
      role="status"
      title={text}
      className={`max-w-64 truncate text-sm ${status.kind === "saved" || status.kind === "saving" ? "text-mist" : "text-call"}`}
    >
      {text}
    </span>
  );
}

function Title({ draft }: { draft: Draft }) {
  const [text, setText] = useState<string>();
  const done = () => {
    if (text?.trim()) draft.rename(text.trim());
    setText(undefined);
  };
  return (
    <div className="border-b border-line bg-paper px-5 py-4">
      <input
        aria-label="Title"
        maxLength={200}
        value={text ?? draft.title}
        onChange={(e) => setText(e.target.value)}
        onBlur={done}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        className="w-full rounded text-2xl font-bold"
      />
      {draft.factsConflict && (
        <div role="alert" className="mt-2 border-l-[3px] border-mustfix pl-3">
          <p>Someone else changed the title to “{draft.factsConflict.title}”.</p>
          <Button onClick={() => draft.settleFacts("mine")}>Use mine</Button>{" "}
          <Button onClick={() => draft.settleFacts("theirs")}>Use theirs</Button>
        </div>
      )}
    </div>
  );
}

function Outline({
  rows,
  numbers,
  findings,
  must,
}: {
  rows: Row[];
  numbers: Numbers;
  findings: Finding[];
  must: number;
}) {
  const go = (id: string) =>
    document.querySelector(`[data-step="${id}"]`)?.scrollIntoView({ block: "start", behavior: "smooth" });
  return (
    <nav aria-label="Steps" className="sticky top-12 h-[calc(100dvh-3rem)] overflow-y-auto py-4 pr-2 pl-3">
      <ol>
        {rows.map((r) => {
          const bad = findings.some((f) => f.block === r.id && f.severity === "must-fix");
          return (
            <li key={r.id}>
              <button
                type="button"
                onClick={() => go(r.id)}
                className="flex w-full gap-2 rounded px-2 py-1 text-left text-sm hover:bg-paper"
              >
                <span className="w-5 shrink-0 text-right font-bold">{numbers.blocks[r.id]}</span>
                <span className={`line-clamp-2 ${bad ? "text-mustfix" : ""}`}>{core.label(r.content)}</span>
              </button>
            </li>
          );
        })}
      </ol>
      <p className="mt-4 px-2 text-sm text-soft">
        {numbers.steps === 1 ? "1 step" : `${numbers.steps} steps`}
        <br />
        {must === 0 ? "Nothing must be fixed" : must === 1 ? "1 thing must be fixed" : `${must} things must be fixed`}
      </p>
    </nav>
  );
}
