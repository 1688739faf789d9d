import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Ellipsis } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Account, api, expect, mayEdit, type Summary } from "../api/client";
import { newID } from "../api/id";
import { useEvents } from "../api/events";
import { useOrder } from "../deliveries/useDeliveries";
import { Places, TopBar } from "../shell/TopBar";
import { Actions, AskDialog, Button, ChooseFiles } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { shown } from "../ui/shown";
import { Failed, Loading } from "../ui/states";
import { useTitle } from "../ui/title";

const when = (iso: string) => {
  const d = new Date(iso);
  const today = new Date().toDateString() === d.toDateString();
  return today
    ? `today ${d.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`
    : d.toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
};

const checkTitle = (text: string) =>
  !text ? "Give it a title." : text.length > 200 ? "Use at most 200 characters." : "";

const Inflow = lazy(() => import("../capture/Inflow"));

export function Library({ account }: { account: Account }) {
  const edits = mayEdit(account);
  const [title, setTitle] = useState("");
  const [asking, setAsking] = useState<"new" | Summary>();
  const client = useQueryClient();
  const navigate = useNavigate();
  const notice = useNotice();
  const order = useOrder();
  useTitle("Library");
  const list = useQuery({
    queryKey: ["documents", title],
    queryFn: () => expect(api.GET("/api/documents", { params: { query: { title } } })),
    placeholderData: (old) => old,
  });
  const refresh = () => void client.invalidateQueries({ queryKey: ["documents"] });
  useEvents({ document: refresh, opened: refresh });

  /** Does something on the server and says so when it fails. */
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (e) {
      notice({ text: (e as Error).message });
    }
    refresh();
  };
  const path = (d: Summary) => ({ params: { path: { document: d.id } } });

  const create = (text: string) =>
    attempt(async () => {
      const made = await expect(api.POST("/api/documents", { body: { title: text } }));
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
  const bringIn = ([file]: File[]) =>
    file &&
    attempt(async () => {
      notice({ text: `Importing ${file.name} …` });
      const made = await expect(
        api.POST("/api/bundles", {
          body: file as unknown as string,
          bodySerializer: (b) => b as unknown as Blob,
          headers: { "Content-Type": "application/zip" },
        }),
      );
      notice({
        text: `“${made.title}” is imported.`,
        action: { label: "Open", run: () => void navigate(`/d/${made.id}/write`) },
      });
    });

  const choices = (d: Summary) => [
    { label: "Rename", run: () => setAsking(d) },
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
    { label: "Delete", run: () => void remove(d), danger: true },
  ];

  const docs = list.data ?? [];
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      {edits && (
        <Suspense>
          <Inflow account={account} />
        </Suspense>
      )}
      <main className="mx-auto max-w-5xl px-4 py-6">
        <div className="mb-4 flex flex-wrap items-end gap-3">
          <h1 className="mr-auto text-2xl font-bold">Documents</h1>
          <input
            type="search"
            aria-label="Find by title"
            placeholder="Find by title"
            className="w-64 rounded border border-soft bg-paper px-3 py-1.5 placeholder:text-soft"
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
          {edits && (
            <Link to="/deleted" className="rounded px-3 py-1.5 text-action hover:bg-paper">
              Deleted
            </Link>
          )}
          {edits && (
            <ChooseFiles label="Import bundle" accept=".bundle,application/zip" onFiles={(f) => void bringIn(f)} />
          )}
          {edits && (
            <Button look="main" onClick={() => setAsking("new")}>
              Write a procedure
            </Button>
          )}
        </div>
        {list.isPending && <Loading what="the library" />}
        {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
        {list.data && docs.length === 0 && (
          <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">
            {title
              ? `No title has “${title}” in it.`
              : edits
                ? "No procedures yet. Press “Write a procedure”, give it a title, and paste your screenshots."
                : "No procedures are ready to follow yet."}
          </p>
        )}
        {docs.length > 0 && (
          <div className="overflow-x-auto rounded border border-line bg-paper">
            <table className="w-full text-left">
              <thead className="text-sm text-soft">
                <tr className="border-b border-line">
                  <th className="px-4 py-2 font-normal">Title</th>
                  <th className="px-3 py-2 font-normal">Kind</th>
                  <th className="px-3 py-2 font-normal">State</th>
                  <th className="px-3 py-2 text-right font-normal">Steps</th>
                  <th className="px-3 py-2 font-normal">Last changed</th>
                  {edits && (
                    <th className="w-12">
                      <span className="sr-only">Actions</span>
                    </th>
                  )}
                </tr>
              </thead>
              <tbody>
                {docs.map((d) => (
                  <tr key={d.id} className="border-b border-line last:border-0 hover:bg-desk/40">
                    <td className="px-4 py-2.5">
                      <Link
                        className="font-bold text-action hover:underline"
                        to={edits ? `/d/${d.id}/write` : `/d/${d.id}`}
                      >
                        {shown(d.title)}
                      </Link>
                    </td>
                    <td className="px-3 py-2.5">Procedure</td>
                    <td className="px-3 py-2.5 whitespace-nowrap">
                      {d.state === "ready" ? `Ready, revision ${d.revision}` : "Draft"}
                    </td>
                    <td className="px-3 py-2.5 text-right tabular-nums">{d.steps}</td>
                    <td className="px-3 py-2.5 whitespace-nowrap">
                      {d.changedBy}, {when(d.changedAt)}
                    </td>
                    {edits && (
                      <td className="pr-2 text-right">
                        <Actions label={`Actions for ${d.title}`} choices={choices(d)}>
                          <Ellipsis aria-hidden size={18} />
                        </Actions>
                      </td>
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </main>
      {asking && (
        <AskDialog
          title={asking === "new" ? "Write a procedure" : "Rename the procedure"}
          label="Title: what will the reader be able to do?"
          initial={asking === "new" ? "" : asking.title}
          confirm={asking === "new" ? "Create" : "Rename"}
          check={checkTitle}
          onDone={(text) => {
            setAsking(undefined);
            if (text) void (asking === "new" ? create(text) : rename(asking, text));
          }}
        />
      )}
    </>
  );
}
