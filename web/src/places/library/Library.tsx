import { reasonOf } from "../../base/reason";
import { part } from "../../base/ui/part";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Account, api, expect, mayEdit, type Summary } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { useOrder } from "../../parts/deliveries/useDeliveries";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Button, ChooseFiles } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { type Asked, AskedOf } from "./AskedOf";
import { LeftOut } from "./LeftOut";
import { Begin, type Beginning } from "./Begin";
import { bringIn, readable } from "./bringIn";
import { DocumentRow } from "../../parts/library/DocumentRow";
import { placeOf } from "../../base/api/kinds";
import { Filters } from "./Filters";
import { FolderFiles } from "../../parts/deliveries/FolderFiles";
import { useFolders } from "../../parts/library/FolderChoice";
import { sheetOfCodes } from "./sheetOfCodes";
import { useLibrary } from "./useLibrary";

const Inflow = part(() => import("./Inflow"));

type Asking = { begin: "procedure" | "manual" } | Asked;

/** Every document of the house that the account may open, and one search over all of them. */
export function Library({ account }: { account: Account }) {
  const edits = mayEdit(account);
  const library = useLibrary();
  const [asking, setAsking] = useState<Asking>();
  const [files, setFiles] = useState(false);
  const [left, setLeft] = useState<{ document: Summary; left: string[] }>();
  const navigate = useNavigate();
  const notice = useNotice();
  const order = useOrder();
  useTitle("Library");

  /** Does something on the server and says so when it fails. */
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
    library.refresh();
  };
  const path = (d: Summary) => ({ params: { path: { document: d.id } } });

  const begin = ({ title, kind, folder, start }: Beginning) =>
    attempt(async () => {
      const made = await expect(api.POST("/api/documents", { body: { title, kind, folder, start } }));
      await navigate(`/d/${made.id}/write`);
    });
  const rename = (d: Summary, text: string) =>
    attempt(async () => {
      const whole = await expect(api.GET("/api/documents/{document}", path(d)));
      const body = {
        id: newID(),
        blocks: [],
        facts: { base: whole.factsVersion, facts: { ...whole.facts, title: text } },
      };
      await expect(api.POST("/api/documents/{document}/changes", { ...path(d), body }));
    });
  const remove = (d: Summary) =>
    attempt(async () => {
      await expect(api.DELETE("/api/documents/{document}", path(d)));
      const restore = () => void attempt(() => expect(api.POST("/api/documents/{document}/restore", path(d))));
      notice({
        text: `“${shown(d.title)}” is deleted. It can be restored for 30 days.`,
        action: { label: "Undo", run: restore },
      });
    });
  const state = (d: Summary, act: "retire" | "reopen" | "release", done: string, instead?: string) =>
    void attempt(async () => {
      const { seq } = await expect(api.GET("/api/documents/{document}", path(d)));
      await expect(api.PUT("/api/documents/{document}/state", { ...path(d), body: { act, seq, instead } }));
      notice({ text: done });
    });
  const take = (file: File) =>
    attempt(async () => {
      notice({ text: `Bringing in ${file.name} …` });
      const made = await bringIn(file, library.value("folder"));
      if (made.left.length > 0) setLeft(made);
      notice({
        text: `“${shown(made.document.title)}” is brought in.`,
        action: { label: "Open", run: () => void navigate(placeOf(made.document, true)) },
      });
    });

  const choices = (d: Summary) => [
    { label: "Rename", run: () => setAsking({ rename: d }) },
    { label: "Move to a folder", run: () => setAsking({ move: d }) },
    {
      label: "Duplicate",
      run: () => void attempt(() => expect(api.POST("/api/documents/{document}/duplicate", path(d)))),
    },
    {
      label: "Export bundle",
      run: () =>
        void attempt(async () => {
          await order.mutateAsync({ document: d.id, format: "bundle" });
          await navigate("/deliveries");
        }),
    },
    "line" as const,
    ...(d.kind === "filed" && d.state === "draft"
      ? [
          {
            label: "Release",
            run: () => state(d, "release", `“${shown(d.title)}” is released: readers find it now.`),
          },
        ]
      : []),
    d.state === "retired"
      ? { label: "Make it a draft again", run: () => state(d, "reopen", "It is a draft again.") }
      : {
          label: "Retire",
          run: () => state(d, "retire", `“${shown(d.title)}” is retired: readers are told that it is not valid.`),
        },
    ...(d.state === "retired"
      ? []
      : [{ label: "Retire, another takes its place", run: () => setAsking({ instead: d }) }]),
    { label: "Delete", run: () => void remove(d), danger: true },
  ];

  const { hits, list } = library;
  const folders = useFolders();
  const inFolder = folders.data?.find((f) => f.id === library.value("folder"));
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      {edits && <Inflow account={account} />}
      <div className="mx-auto grid max-w-7xl gap-6 px-4 py-5 md:grid-cols-[13.5rem_minmax(0,1fr)]">
        <aside aria-label="Folders and filters" className="hidden md:block">
          <Filters account={account} library={library} />
        </aside>
        <main className="min-w-0">
          <div className="mb-3 flex flex-wrap items-center gap-3">
            <h1 className="mr-auto text-2xl font-bold">Documents</h1>
            {inFolder && <Button onClick={() => setFiles(true)}>Make files of this folder</Button>}
            {inFolder && hits.length > 0 && (
              <Button onClick={() => void attempt(() => sheetOfCodes(hits.map((h) => h.document.id)))}>
                Sheet of codes
              </Button>
            )}
            {edits && (
              <Link to="/deleted" className="rounded px-2 py-1.5 text-action hover:bg-paper">
                Deleted
              </Link>
            )}
            {edits && (
              <ChooseFiles
                label="Bring in files"
                accept={readable}
                many
                onFiles={(f) => f.forEach((x) => void take(x))}
              />
            )}
            {edits && <Button onClick={() => setAsking({ begin: "manual" })}>Write a manual</Button>}
            {edits && (
              <Button look="main" onClick={() => setAsking({ begin: "procedure" })}>
                Write a procedure
              </Button>
            )}
          </div>
          <div className="mb-3 flex flex-wrap gap-3">
            <input
              type="search"
              aria-label="Find documents and steps"
              placeholder="Find by title, number, words of steps, or text in pictures"
              className="min-w-72 flex-1 rounded border border-soft bg-paper px-3 py-2 placeholder:text-soft"
              value={library.text}
              onChange={(e) => library.setText(e.target.value)}
            />
            <select
              aria-label="Sort"
              value={library.value("sort")}
              onChange={(e) => library.set("sort", e.target.value)}
              className="rounded border border-soft bg-paper px-2"
            >
              <option value="">{library.asked ? "Most likely first" : "Last changed first"}</option>
              <option value="title">By title</option>
              <option value="number">By number</option>
              <option value="review">By next review</option>
            </select>
          </div>
          <details className="mb-3 md:hidden">
            <summary className="text-action">Folders and filters</summary>
            <div className="pt-2">
              <Filters account={account} library={library} />
            </div>
          </details>
          {list.isPending && <Loading what="the library" />}
          {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
          {list.data && hits.length === 0 && (
            <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">
              {library.asked
                ? `Nothing that you may open has “${shown(library.asked)}” in it.`
                : library.filtered
                  ? "No document is like that."
                  : edits
                    ? "No procedures yet. Press “Write a procedure”, give it a title, and paste your screenshots."
                    : "No procedures are ready to follow yet."}
            </p>
          )}
          {hits.length > 0 && (
            <ul aria-label="Documents" className="rounded border border-line bg-paper">
              {hits.map((h) => (
                <DocumentRow
                  key={`${h.document.id} ${h.block ?? ""} ${h.page ?? ""}`}
                  hit={h}
                  edits={edits}
                  choices={choices(h.document)}
                  onPin={(pinned) =>
                    void attempt(() =>
                      expect(api.PUT("/api/documents/{document}/shelf", { ...path(h.document), body: { pinned } })),
                    )
                  }
                />
              ))}
            </ul>
          )}
          {list.hasNextPage && (
            <Button className="mt-3" disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
              Show more
            </Button>
          )}
        </main>
      </div>
      {files && inFolder && <FolderFiles folder={inFolder} onDone={() => setFiles(false)} />}
      {asking && "begin" in asking && (
        <Begin
          kind={asking.begin}
          folder={library.value("folder")}
          onDone={(b) => {
            setAsking(undefined);
            if (b) void begin(b);
          }}
        />
      )}
      {asking && !("begin" in asking) && (
        <AskedOf
          asking={asking}
          onDone={() => setAsking(undefined)}
          onRename={(d, text) => void rename(d, text)}
          onMove={(d, folder) =>
            void attempt(() => expect(api.PUT("/api/documents/{document}/place", { ...path(d), body: { folder } })))
          }
          onInstead={(d, other) =>
            state(
              d,
              "retire",
              `“${shown(d.title)}” is retired: readers are told that “${shown(other.title)}” takes its place.`,
              other.id,
            )
          }
        />
      )}
      {left && <LeftOut {...left} onDone={() => setLeft(undefined)} />}
    </>
  );
}
