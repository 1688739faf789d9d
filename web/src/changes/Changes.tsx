import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Account, api, type Difference, expect } from "../api/client";
import { DocumentTabs, TopBar } from "../shell/TopBar";
import { Blank, Button } from "../ui/controls";
import { shown } from "../ui/shown";
import { Loading } from "../ui/states";
import { useTitle } from "../ui/title";
import { Facts } from "./Facts";
import { Pictures } from "./Pictures";
import { Reworded } from "./Reworded";

type Block = Difference["blocks"][number];
type Change = Block["changes"][number];

const said: Record<Change, string> = {
  added: "New",
  removed: "Removed",
  moved: "Moved",
  reworded: "Reworded",
  restyled: "Set in another way",
  pictures: "Other pictures",
  notice: "Other notice",
  about: "Other facts",
};

const counts: Record<Change, string> = {
  added: "new",
  removed: "removed",
  moved: "moved",
  reworded: "reworded",
  restyled: "set in another way",
  pictures: "with other pictures",
  notice: "with another notice",
  about: "with other facts",
};

/** How many steps changed in which way, as one line: "2 new, 1 reworded". */
const counted = (of: Difference["counts"]) =>
  (Object.keys(counts) as Change[])
    .filter((c) => of[c])
    .map((c) => `${of[c]} ${counts[c]}`)
    .join(", ");

const day = (iso: string) => new Date(iso).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** What has changed between two states of a document, on screen and on paper. */
export function Changes({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const [all, setAll] = useState(false);
  const from = Number(search.get("from")) || undefined;
  const to = Number(search.get("to")) || undefined;
  const query = useQuery({
    queryKey: ["differences", id, from, to],
    staleTime: 0,
    queryFn: () =>
      expect(
        api.GET("/api/documents/{document}/differences", { params: { path: { document: id }, query: { from, to } } }),
      ),
    retry: false,
  });
  const history = useQuery({
    queryKey: ["history", id],
    queryFn: () => expect(api.GET("/api/documents/{document}/history", { params: { path: { document: id } } })),
  });
  const revisions = history.data?.flatMap((h) => (h.revision ? [h.revision] : [])) ?? [];
  useTitle(query.data && `Changes of ${shown(query.data.title)}`);
  const d = query.data;
  const choose = (name: "from" | "to", value: string) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
  const pick = (name: "from" | "to", label: string, value: number | undefined, draft?: string) => (
    <label className="flex items-center gap-2">
      {label}
      <select
        value={value ?? ""}
        onChange={(e) => choose(name, e.target.value)}
        className="rounded border border-soft bg-paper px-2 py-1"
      >
        {draft && <option value="">{draft}</option>}
        {revisions.map((r) => (
          <option key={r} value={r}>
            Revision {r}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <>
      <TopBar account={account}>
        <Link to="/" className="hidden text-mist hover:text-paper sm:block">
          Library
        </Link>
        <span className="min-w-0 flex-1 truncate font-bold">{shown(d?.title ?? "")}</span>
        <DocumentTabs id={id} account={account} />
      </TopBar>
      {query.isPending && <Loading what="the changes" />}
      {query.error && (
        <Blank title="Nothing to compare">
          {query.error.message}{" "}
          <Link to={`/d/${id}/write`} className="text-action underline">
            Back to the document
          </Link>
        </Blank>
      )}
      {d && (
        <>
          <div className="sticky top-12 z-10 flex flex-wrap items-center gap-4 border-b border-line bg-desk px-4 py-2 print:hidden">
            {pick("from", "From", d.from.revision)}
            {pick("to", "to", d.to.revision, "the document as it is")}
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={all}
                onChange={(e) => setAll(e.target.checked)}
                className="accent-action"
              />
              Show what has not changed
            </label>
            <span className="flex-1" />
            <Button onClick={() => print()}>Print</Button>
          </div>
          <main className="mx-auto max-w-5xl px-4 py-6 print:max-w-none print:p-0">
            <h1 className="text-2xl font-bold">{shown(d.title)}</h1>
            <p className="mb-5 text-soft">
              {d.from.said} ({d.from.by}, {day(d.from.at)}) to {d.to.said.toLowerCase()} ({d.to.by}, {day(d.to.at)}).{" "}
              {counted(d.difference.counts) || (d.difference.facts.length ? "" : "Nothing has changed.")}
              {counted(d.difference.counts) && "."}
            </p>
            {d.difference.facts.length > 0 && (
              <section aria-labelledby="facts" className="mb-5 rounded border border-line bg-paper p-4">
                <h2 id="facts" className="mb-2 font-bold">
                  About the document
                </h2>
                <Facts facts={d.difference.facts} />
              </section>
            )}
            <ol className="space-y-3">
              {folded(d.difference.blocks, all).map((b, i) =>
                typeof b === "number" ? (
                  <li key={`same ${i}`} className="px-4 text-sm text-soft">
                    {b === 1 ? "1 step is as it was." : `${b} steps are as they were.`}
                  </li>
                ) : (
                  <Row
                    key={`${b.before} ${b.after}`}
                    id={id}
                    block={b}
                    from={d.from.revision ?? 1}
                    to={d.to.revision}
                  />
                ),
              )}
            </ol>
          </main>
        </>
      )}
    </>
  );
}

/** Runs of what has not changed are told by how many there are, unless all is asked for. */
function folded(blocks: Block[], all: boolean): (Block | number)[] {
  const out: (Block | number)[] = [];
  for (const b of blocks) {
    const last = out.at(-1);
    if (all || b.changes.length > 0) out.push(b);
    else if (typeof last === "number") out[out.length - 1] = last + 1;
    else out.push(1);
  }
  return out;
}

const edge: Partial<Record<Change, string>> = { added: "border-l-action", removed: "border-l-mustfix" };

/** One step: how it was numbered and is, what about it changed, its words and pictures. */
function Row({ id, block: b, from, to }: { id: string; block: Block; from: number; to: number | undefined }) {
  const first = b.changes[0];
  return (
    <li
      className={`rounded border border-l-[4px] border-line bg-paper p-4 print:break-inside-avoid ${(first && edge[first]) ?? (first ? "border-l-call" : "border-l-line")}`}
    >
      <p className="mb-1 flex flex-wrap items-baseline gap-x-3 text-sm text-soft">
        <b className="text-base text-ink">{b.number || b.was || (b.type === "passage" ? "Between steps" : "")}</b>
        {b.was && b.number && b.was !== b.number && <span>was {b.was}</span>}
        {b.changes.map((c) => (
          <span key={c} className="rounded border border-soft px-1.5">
            {said[c]}
          </span>
        ))}
      </p>
      {b.words.length > 0 ? <Reworded words={b.words} /> : <p dir="auto">{shown(b.label)}</p>}
      {b.facts.length > 0 && <Facts facts={b.facts} />}
      {b.pictures.map((p) => (
        <Pictures key={`${p.before} ${p.after}`} document={id} picture={p} from={from} to={to} />
      ))}
    </li>
  );
}
