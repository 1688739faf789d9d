import { shown } from "../ui/shown";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useParams } from "react-router";
import { type Account, api, expect, figureAddress, type Layout } from "../api/client";
import { useEvents } from "../api/events";
import { DocumentTabs, StateBadge, TopBar } from "../shell/TopBar";
import { Blank, Button } from "../ui/controls";
import { Sheet } from "./Sheet";
import { useDelivery } from "./useDelivery";

const layouts: { layout: Layout; name: string }[] = [
  { layout: 4, name: "Four steps to a page" },
  { layout: 2, name: "Two steps to a page" },
];

/** The document as it will print. */
export function PagesView({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [layout, setLayout] = useState<Layout>(4);
  const client = useQueryClient();
  const path = { params: { path: { document: id } } };
  const whole = useQuery({
    queryKey: ["document", id],
    queryFn: () => expect(api.GET("/api/documents/{document}", path)),
  });
  const pages = useQuery({
    queryKey: ["pages", id, layout, whole.data?.seq],
    enabled: whole.data !== undefined,
    queryFn: () =>
      expect(api.GET("/api/documents/{document}/pages", { params: { path: { document: id }, query: { layout } } })),
    placeholderData: (old) => old,
  });
  const refresh = () => void client.invalidateQueries({ queryKey: ["document", id] });
  useEvents({ document: (e) => e.document === id && refresh(), opened: refresh });
  const { delivery, problem, begin, cancel, forget } = useDelivery(id);
  const seq = whole.data?.seq ?? 0;
  const picture = useCallback(
    (ref: string) => figureAddress(id, ref.slice("figure:".length), layout === 4 ? 1000 : 1600, seq),
    [id, layout, seq],
  );
  const onPage = useCallback(
    (page: number) => document.getElementById(`page-${page}`)?.scrollIntoView({ behavior: "smooth" }),
    [],
  );
  const busy = delivery?.state === "waiting" || delivery?.state === "working";
  if (whole.error) {
    return (
      <>
        <TopBar account={account} />
        <Blank title="This document can’t be shown">{whole.error.message}</Blank>
      </>
    );
  }
  const summary = whole.data?.summary;
  return (
    <>
      <TopBar account={account}>
        <Link to="/" className="hidden text-mist hover:text-paper sm:block">
          Library
        </Link>
        <span className="min-w-0 flex-1 truncate font-bold">{shown(summary?.title ?? "")}</span>
        {summary && <StateBadge state={summary.state} revision={summary.revision} />}
        <DocumentTabs id={id} account={account} />
      </TopBar>
      <div className="sticky top-12 z-10 flex flex-wrap items-center gap-3 border-b border-line bg-desk px-4 py-2">
        <div role="group" aria-label="Layout" className="flex">
          {layouts.map((l) => (
            <button
              key={l.layout}
              type="button"
              aria-pressed={layout === l.layout}
              onClick={() => setLayout(l.layout)}
              className={`border px-3 py-1.5 first:rounded-l last:rounded-r ${layout === l.layout ? "border-action bg-action text-paper" : "border-line bg-paper"}`}
            >
              {l.name}
            </button>
          ))}
        </div>
        <span className="flex-1 text-soft">
          {pages.data && (pages.data.sheets.length === 1 ? "1 page" : `${pages.data.sheets.length} pages`)}
        </span>
        {problem && <span className="text-mustfix">{problem}</span>}
        {busy && (
          <>
            <progress
              aria-label="Making the PDF"
              max={delivery.all || 1}
              value={delivery.done}
              className="h-2 w-40 accent-action"
            />
            <span role="status" className="tabular-nums">
              {delivery.all ? `${delivery.done} of ${delivery.all} pictures` : "Making the PDF …"}
            </span>
            <Button onClick={() => void cancel()}>Cancel</Button>
          </>
        )}
        {delivery?.state === "failed" && (
          <span role="alert" className="text-mustfix">
            The PDF could not be made: {delivery.error}
          </span>
        )}
        {delivery?.state === "done" && (
          <a
            className="font-bold text-action underline"
            href={`/api/deliveries/${delivery.id}/file`}
            download={delivery.file}
            onClick={() => setTimeout(forget, 1000)}
          >
            Download {delivery.file}
          </a>
        )}
        {!busy && (
          <Button look="main" onClick={() => void begin(layout)}>
            Make the PDF
          </Button>
        )}
      </div>
      <main className="mx-auto max-w-[860px] space-y-6 px-4 py-6">
        {pages.data?.notes.map((n) => (
          <p key={n.step} className="border-l-[3px] border-look bg-paper px-3 py-2">
            {n.text}
          </p>
        ))}
        {pages.data?.sheets.map((sheet, i) => (
          <div key={i} id={`page-${i + 1}`} className="scroll-mt-28">
            <Sheet scene={sheet} number={i + 1} picture={picture} onPage={onPage} />
          </div>
        ))}
      </main>
    </>
  );
}
