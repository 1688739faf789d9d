import { ask } from "../../base/api/ask";
import { dayOf } from "../../base/format";
import { Select } from "../../base/ui/Select";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Account } from "../../base/api/client";
import { Acts, DocumentBar } from "../../parts/bar/DocumentBar";
import { Blank, Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { Differing } from "../../parts/differences/Differing";

/** What has changed between two states of a document, on screen and on paper. */
export function Changes({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const [all, setAll] = useState(false);
  const from = Number(search.get("from")) || undefined;
  const to = Number(search.get("to")) || undefined;
  const query = useQuery({
    ...ask("/api/documents/{document}/differences", { path: { document: id }, query: { from, to } }),
    staleTime: 0,
    retry: false,
  });
  const history = useQuery(ask("/api/documents/{document}/history", { path: { document: id } }));
  const revisions = history.data?.filter((h) => h.revision) ?? [];
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
      <Select
        label={label}
        value={value === undefined ? "" : String(value)}
        onChange={(value) => choose(name, value)}
        options={[
          ...(draft ? [{ value: "", name: draft }] : []),
          ...revisions.map((r) => ({
            value: String(r.revision),
            name: `Revision ${r.revision}`,
            about: `${dayOf(r.at)}, ${r.by}`,
          })),
        ]}
      />
    </label>
  );
  return (
    <>
      <DocumentBar account={account} id={id} title={d?.title ?? ""} />
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
          <Acts>
            {pick("from", "From", d.from.revision)}
            {pick("to", "to", d.to.revision, "the document as it is")}
            <label className="flex items-center gap-2">
              <input type="checkbox" checked={all} onChange={(e) => setAll(e.target.checked)} />
              Show what has not changed
            </label>
            <span className="flex-1" />
            <Button onClick={() => print()}>Print</Button>
          </Acts>
          <main className="mx-auto max-w-5xl px-4 py-6 print:max-w-none print:p-0">
            <h1 className="text-2xl font-bold">{shown(d.title)}</h1>
            <Differing id={id} d={d} all={all} />
          </main>
        </>
      )}
    </>
  );
}
