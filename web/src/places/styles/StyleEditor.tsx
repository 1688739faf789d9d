import { useUndoKeys } from "../../parts/document/useUndo";
import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import {
  type Account,
  api,
  expect,
  figureAddress,
  type HouseStyle,
  type KeptStyle,
  Problem,
} from "../../base/api/client";
import { Sheet } from "../../parts/reading/Sheet";
import { TopBar } from "../../parts/bar/TopBar";
import { PickDocument } from "../../base/ui/PickDocument";
import { Blank, Button, ChooseFiles } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { saveAs } from "../../base/ui/saveAs";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { unsent } from "../../base/ui/unsent";
import { useAskFirst } from "../../base/ui/useEdited";
import { Handles } from "./Handles";
import { Settings } from "./Settings";
import { settingAt } from "./settingAt";
import { useHouseStyles } from "../../parts/house/useHouseStyles";
import { useSteps } from "./useSteps";
import { around, parsed } from "../../base/typed";

/** A house style is made: a document in pages, live, beside the settings. */
export function StyleEditor({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const styles = useHouseStyles();
  const kept = styles.data?.find((s) => s.id === id);
  if (styles.isPending) return <Loading what="the style" />;
  if (!kept) return <Blank title="There is no such style">It may have been deleted.</Blank>;
  return <Editing key={id} account={account} kept={kept} all={styles.data ?? []} />;
}

function Editing({ account, kept, all }: { account: Account; kept: KeptStyle; all: KeptStyle[] }) {
  // The version that the changes were begun on, and what was not kept when another screen was opened.
  const keep = `style ${kept.id}`;
  const [left] = useState(() => {
    const raw = unsent.get(keep);
    return raw ? parsed<{ begun: KeptStyle; style: HouseStyle }>(raw) : undefined;
  });
  const [begun, setBegun] = useState(left?.begun ?? kept);
  const { style, set, undo, redo, undoes, redoes } = useSteps<HouseStyle>(left?.style ?? kept.style);
  const [document, setDocument] = useState<string>();
  const [choosing, setChoosing] = useState(false);
  const styles = useHouseStyles();
  const navigate = useNavigate();
  const notice = useNotice();
  const settings = useRef<HTMLDivElement>(null);
  useTitle(`Style ${shown(style.name)}`);
  const changed = JSON.stringify(style) !== JSON.stringify(begun.style);
  useAskFirst(changed);
  useEffect(() => {
    if (changed) unsent.set(keep, JSON.stringify({ begun, style }));
    else unsent.delete(keep);
  }, [changed, keep, begun, style]);
  useEffect(() => {
    if (changed || kept.version === begun.version) return;
    setBegun(kept); // someone else has changed it, and nothing was changed here
    set(kept.style);
  }, [changed, kept, begun, set]);
  const save = useMutation({
    ...beside,
    mutationFn: async () => {
      if (!kept.builtIn)
        return expect(
          api.PUT("/api/housestyles/{style}", {
            params: { path: { style: kept.id } },
            body: { version: begun.version, style },
          }),
        );
      // What ships stays as it is: a copy of it is kept.
      const name = all.some((s) => s.style.name === style.name) ? `${style.name}, ours` : style.name;
      return expect(api.POST("/api/housestyles", { body: { ...style, name } }));
    },
    onError: async (e) => {
      if (!(e instanceof Problem) || e.status !== 409) return;
      // They are told: what they keep next is meant to stand in the place of the other's.
      const now = (await styles.refetch()).data?.find((s) => s.id === kept.id);
      if (now) setBegun({ ...begun, version: now.version });
    },
    onSuccess: async (now) => {
      if (!kept.builtIn) setBegun(now);
      unsent.delete(keep);
      await styles.refetch(); // where it goes next knows it
      notice({
        text: kept.builtIn
          ? `Kept as “${now.style.name}”. The style that ships is as it was.`
          : "Kept. Drafts have it from now on; revisions keep what they were released with.",
      });
      if (kept.builtIn) void navigate(`/styles/${now.id}`, { replace: true });
    },
  });
  const documents = useQuery(ask("/api/documents"));
  const shows = documents.data?.find((d) => d.kind === "procedure" && d.state === "ready" && d.steps > 5);
  const first = (shows ?? documents.data?.[0])?.id;
  const of = document ?? first;
  const [settled, setSettled] = useState(style);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(style), 150);
    return () => clearTimeout(timer);
  }, [style]);
  const pages = useQuery({
    queryKey: ["tried", of, settled],
    enabled: of !== undefined,
    queryFn: ({ signal }) =>
      expect(
        api.POST("/api/documents/{document}/tried", {
          params: { path: { document: of ?? "" } },
          body: { style: settled, layout: settled.layout },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const picture = useCallback(
    (ref: string) =>
      ref.startsWith("logo:")
        ? `/api/housefiles/${ref.slice("logo:".length)}`
        : figureAddress(of ?? "", ref.slice("figure:".length), 1000, 0),
    [of],
  );
  useUndoKeys((how) => (how === "undo" ? undo() : redo()));
  const goTo = (name: string) => {
    const group = settings.current?.querySelector<HTMLElement>(`[data-setting="${name}"]`);
    group?.scrollIntoView({ behavior: "smooth", block: "start" });
    group?.querySelector<HTMLElement>("input, select")?.focus({ preventScroll: true });
  };
  return (
    <>
      <TopBar account={account}>
        <Link to="/setup/styles" className="text-mist hover:text-paper">
          House styles
        </Link>
        <span className="min-w-0 flex-1 truncate font-bold">{shown(style.name)}</span>
        <Button look="dark" why={!undoes && "Nothing to undo."} onClick={undo}>
          Undo
        </Button>
        <Button look="dark" why={!redoes && "Nothing to redo."} onClick={redo}>
          Redo
        </Button>
        <Button
          look="call"
          disabled={save.isPending}
          why={!changed && "Nothing was changed."}
          onClick={() => save.mutate()}
        >
          {kept.builtIn ? "Keep as a style of ours" : "Keep"}
        </Button>
      </TopBar>
      <div className="grid grid-cols-[22rem_minmax(0,1fr)]">
        <div
          ref={settings}
          className="sticky top-(--bar) h-[calc(100dvh-var(--bar))] overflow-y-auto border-r border-line bg-paper px-4 pb-16"
        >
          {save.error && (
            <p role="alert" className="mt-3 text-mustfix">
              {save.error.message}
            </p>
          )}
          {kept.builtIn && (
            <p className="mt-3 text-sm text-soft">
              This style ships and stays as it is. What you change is kept as a style of your own.
            </p>
          )}
          <Settings style={style} set={set} />
          <Exchange style={style} set={set} />
          <Uses kept={kept} />
        </div>
        <main className="min-w-0 bg-desk px-6 py-4">
          <div className="mb-3 flex flex-wrap items-center gap-3 text-sm text-soft">
            <span>Press a thing on the page to come to its setting. Drag the lines at the page’s edges.</span>
            <Button small onClick={() => setChoosing(true)}>
              Show another document
            </Button>
          </div>
          {pages.error && <Failed error={pages.error} again={() => void pages.refetch()} />}
          {pages.isPending && of && <Loading what="the pages" />}
          {documents.data?.length === 0 && <p>Write a document first: a style is seen on one.</p>}
          <div className="mx-auto max-w-[820px] space-y-5">
            {pages.data?.sheets.map((sheet, i) => (
              <div
                key={i}
                className="relative"
                onClickCapture={(e) => {
                  if (around(e, "[role=slider]")) return;
                  e.preventDefault(); // links lead nowhere here
                  e.stopPropagation();
                  const at = e.currentTarget.getBoundingClientRect();
                  const k = sheet.w / at.width;
                  goTo(settingAt(sheet, style, (e.clientX - at.left) * k, (e.clientY - at.top) * k));
                }}
              >
                <Sheet scene={sheet} number={i + 1} picture={picture} onPage={() => undefined} />
                <Handles sheet={sheet} style={style} set={set} />
              </div>
            ))}
          </div>
        </main>
      </div>
      {choosing && (
        <PickDocument
          title="Show the style on a document"
          without={[]}
          onDone={(d) => {
            setChoosing(false);
            if (d) setDocument(d.id);
          }}
        />
      )}
    </>
  );
}

/** A style goes out as a file and comes in from one. */
function Exchange({ style, set }: { style: HouseStyle; set: (style: HouseStyle) => void }) {
  const notice = useNotice();
  const file = () =>
    saveAs(
      new Blob([JSON.stringify(style, null, 2)], { type: "application/json" }),
      `${style.name.replace(/[\\/:*?"<>|]/g, " ")}.style.json`,
    );
  const take = async (file: File | undefined) => {
    try {
      const read = parsed<HouseStyle>((await file?.text()) ?? "");
      if (typeof read.name !== "string" || typeof read.paper !== "object") throw new Error();
      set({ ...style, ...read });
    } catch {
      notice({ text: "That file is no house style. Nothing was changed." });
    }
  };
  return (
    <div className="mt-6 flex gap-2 border-t border-line pt-4">
      <Button onClick={file}>Save as a file</Button>
      <ChooseFiles label="Take from a file" accept=".json" onFiles={(f) => void take(f[0])} />
    </div>
  );
}

/** Which documents have the style. */
function Uses({ kept }: { kept: KeptStyle }) {
  const uses = useQuery(ask("/api/housestyles/{style}/uses", { path: { style: kept.id } }));
  if (!uses.data) return null;
  return (
    <section className="mt-6 border-t border-line pt-4">
      <h2 className="font-bold">Documents that name it</h2>
      {uses.data.length === 0 && (
        <p className="text-sm text-soft">
          None{kept.usual ? "; it is the usual style, and all that name no other have it" : ""}.
        </p>
      )}
      <ul>
        {uses.data.map((d) => (
          <li key={d.id}>
            <Link to={`/d/${d.id}/write`} className="text-action hover:underline">
              {shown(d.title)}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
