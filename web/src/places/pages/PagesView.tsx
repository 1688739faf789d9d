import { ask } from "../../base/api/ask";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Account, figureAddress, mayEdit, type Layout, type Pages } from "../../base/api/client";
import { Deliver } from "../../parts/deliveries/Deliver";
import { Progress } from "../../parts/deliveries/Progress";
import { useDeliveries, useOrder } from "../../parts/deliveries/useDeliveries";
import { layouts } from "../../parts/house/layouts";
import { StateBadge, TopBar } from "../../parts/bar/TopBar";
import { Acts, DocumentBar } from "../../parts/bar/DocumentBar";
import { Blank, Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { Select } from "../../base/ui/Select";
import { useTitle } from "../../base/ui/title";
import { Remarks, useRemarks } from "./Remarks";
import { Sheet } from "../../parts/reading/Sheet";

/** The document as it will print. */
export function PagesView({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const layout = layouts.find((l) => l.layout === search.get("layout"))?.layout ?? "";
  const revision = Number(search.get("revision")) || undefined;
  const path = { params: { path: { document: id } } };
  const whole = useQuery(ask("/api/documents/{document}", path.params));
  const pages = useQuery({
    ...ask("/api/documents/{document}/pages", { path: { document: id }, query: { layout, revision } }, whole.data?.seq),
    enabled: whole.data !== undefined,
    placeholderData: keepPreviousData,
  });
  const seq = whole.data?.seq ?? 0;
  const picture = useCallback(
    (ref: string) =>
      ref.startsWith("logo:")
        ? `/api/housefiles/${ref.slice("logo:".length)}`
        : figureAddress(id, ref.slice("figure:".length), layout === "one" || layout === "two" ? 1600 : 1000, seq) +
          (revision ? `&revision=${revision}` : ""),
    [id, layout, seq, revision],
  );
  const onPage = useCallback(
    (page: number) => document.getElementById(`page-${page}`)?.scrollIntoView({ behavior: "smooth" }),
    [],
  );
  const remarks = useRemarks(id, pages.data, seq, mayEdit(account) && !revision);
  useSheetSize(pages.data?.sheets[0]);
  const summary = whole.data?.summary;
  useTitle(summary && `Pages of ${shown(summary.title)}`);
  if (whole.error) {
    return (
      <>
        <TopBar account={account} />
        <Blank title="This document can’t be shown">{whole.error.message}</Blank>
      </>
    );
  }
  return (
    <>
      <DocumentBar
        account={account}
        id={id}
        title={summary?.title ?? ""}
        standing={summary && <StateBadge kind={summary.kind} state={summary.state} revision={summary.revision} />}
      />
      <Acts>
        <label className="flex items-center gap-2">
          Layout
          <Select
            label="Layout"
            value={layout}
            onChange={(layout) => {
              const next = new URLSearchParams(search);
              next.delete("layout");
              if (layout) next.set("layout", layout);
              setSearch(next, { replace: true });
            }}
            options={[
              { value: "", name: "As it was written" },
              ...layouts.map((l) => ({ value: l.layout, name: l.name, about: l.use })),
            ]}
          />
        </label>
        <span className="flex-1 text-soft">
          {pages.data && (pages.data.sheets.length === 1 ? "1 page" : `${pages.data.sheets.length} pages`)}
        </span>
        {revision ? (
          <span>
            Revision {revision}, as it was.{" "}
            <Link to={`/d/${id}/pages`} className="text-action underline">
              Show it as it is
            </Link>
          </span>
        ) : (
          <Make document={id} layout={layout} pages={pages.data} seq={seq} />
        )}
      </Acts>
      <main className="mx-auto max-w-[860px] space-y-6 px-4 py-6 print:max-w-none print:space-y-0 print:p-0">
        {pages.isPending && <Loading what="the pages" />}
        {pages.error && <Failed error={pages.error} again={() => void pages.refetch()} />}
        {pages.data?.notes.map((n) => (
          <p key={n.block} className="border-l-[3px] border-look bg-paper px-3 py-2">
            {n.text}
          </p>
        ))}
        {pages.data?.sheets.map((sheet, i) => (
          <div key={i} id={`page-${i + 1}`} className="print:break-after-page print:last:break-after-auto">
            <Remarks id={id} findings={remarks.get(i + 1)} />
            <Sheet scene={sheet} number={i + 1} picture={picture} onPage={onPage} />
          </div>
        ))}
      </main>
    </>
  );
}

/** Printing has sheets of the size of the pages, without margins of its own: they are in the pages. */
function useSheetSize(sheet: Pages["sheets"][number] | undefined) {
  const { w, h } = sheet ?? {};
  useEffect(() => {
    if (!w || !h) return;
    const rule = new CSSStyleSheet();
    rule.replaceSync(`@page { size: ${w}pt ${h}pt; margin: 0 }`);
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, rule];
    return () => {
      document.adoptedStyleSheets = document.adoptedStyleSheets.filter((r) => r !== rule);
    };
  }, [w, h]);
}

/** Makes files of the document, and shows how far the last one is. */
function Make({
  document,
  layout,
  pages,
  seq,
}: {
  document: string;
  layout: Layout;
  pages: Pages | undefined;
  seq: number;
}) {
  const order = useOrder();
  const [choosing, setChoosing] = useState(false);
  const deliveries = useDeliveries(document);
  const last = deliveries.data?.find((d) => d.mine);
  return (
    <>
      {order.error && <span className="text-mustfix">{order.error.message}</span>}
      {last && <Progress of={last} />}
      {(deliveries.data?.length ?? 0) > 0 && (
        <Link to={`/deliveries?document=${document}`} className="text-action underline">
          Deliveries
        </Link>
      )}
      <Button onClick={() => print()}>Print</Button>
      <Button onClick={() => setChoosing(true)}>Other formats</Button>
      <Button
        look="main"
        disabled={order.isPending}
        onClick={() => order.mutate({ document, format: "pdf", ...(layout && { layout }) })}
      >
        Make the PDF
      </Button>
      {choosing && (
        <Deliver document={document} layout={layout} pages={pages} seq={seq} onDone={() => setChoosing(false)} />
      )}
    </>
  );
}
