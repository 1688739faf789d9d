import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type Layout, type OfPDF, type Order, type Pages, type Quality } from "../../base/api/client";
import { layouts } from "../house/layouts";
import { Button, Panel } from "../../base/ui/controls";
import { Select } from "../../base/ui/Select";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { OfPDFs } from "./OfPDFs";
import { copyDocument } from "./copy";
import { sizeOf } from "../../base/format";
import { TemplateChoice } from "./TemplateChoice";
import { useStand } from "./useStandings";
import { type Where, Whereto } from "./Whereto";
import { useFormats, useOrder } from "./useDeliveries";

const qualities: { name: string; quality: Quality }[] = [
  { name: "For screens, 150 dots to an inch", quality: { dpi: 150 } },
  { name: "For print, 250 dots to an inch", quality: {} },
  { name: "For fine print, 400 dots to an inch", quality: { dpi: 400 } },
  { name: "Smallest, 150 dots to an inch and 32 colours", quality: { dpi: 150, colors: 32 } },
];

const box = "rounded border border-soft bg-paper px-2 py-1";

/** Chooses what a delivery is to be: its form, the steps that it takes, and how sharp its pictures are. */
export function Deliver(props: {
  document: string;
  layout: Layout;
  pages: Pages | undefined;
  seq: number;
  onDone: () => void;
}) {
  const { document, pages } = props;
  const places = pages?.places ?? [];
  const pictured = pages?.sheets.some((s) => s.items.some((i) => i.picture)) ?? true;
  const formats = useFormats();
  const order = useOrder();
  const [name, setName] = useState("pdf");
  const [layout, setLayout] = useState(props.layout);
  const [template, setTemplate] = useState("");
  const [quality, setQuality] = useState<Quality>({});
  const [pdf, setPDF] = useState<OfPDF>({});
  const [where, setWhere] = useState<Where>();
  const [revision, setRevision] = useState<number>();
  const edits = formats.data?.some((f) => f.whole) ?? false;
  const stand = useStand(document);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const form = formats.data?.find((f) => f.name === name);
  const steps = places.filter((p) => p.type !== "section" && p.type !== "chapter").map((p) => p.block);
  const taken = steps.filter((id) => !left.has(id));
  const none = taken.length === 0 && "Choose at least one step.";
  const wanted: Order = {
    format: name,
    ...(form?.layouts && layout && { layout }),
    ...(template && form?.templates.some((t) => t.name === template) && { template }),
    ...(taken.length < steps.length && !form?.whole && !where && !revision && { steps: taken }),
    ...(revision && !form?.whole && !where && { revision }),
    ...(!form?.whole && { quality }),
    ...(form?.layouts && Object.keys(pdf).length > 0 && { pdf }),
  };
  // A booklet and a password weigh nothing.
  const { pdf: chosen, ...rest } = wanted;
  const weighs: Order = { ...rest, ...(chosen?.attached && { pdf: { attached: true } }) };
  const notice = useNotice();
  const copy = (as: "rich" | "markdown", done: string) =>
    void copyDocument(document, as, taken.length < steps.length ? taken : undefined).then(
      () => notice({ text: done }),
      (e: Error) => notice({ text: `Nothing was copied. ${e.message}` }),
    );
  return (
    <Panel wide title="Make a file of this document" onDone={props.onDone}>
      <div className="grid max-h-[70vh] gap-x-8 overflow-y-auto sm:grid-cols-[17rem_minmax(0,1fr)]">
        <fieldset>
          <legend className="mb-1 font-bold">Form</legend>
          {formats.data?.map((f) => (
            <label key={f.name} className="flex items-baseline gap-2 py-0.5">
              <input type="radio" name="form" checked={f.name === name} onChange={() => setName(f.name)} />
              {f.title}
            </label>
          ))}
        </fieldset>
        <div className="min-w-0 space-y-4">
          {edits && form && !form.whole && !where && (
            <From document={document} revision={revision} onRevision={setRevision} />
          )}
          {form?.whole && <p>It holds everything there is of the document, with its shots and marks as they are.</p>}
          <TemplateChoice form={form} value={template} onChoose={setTemplate} />
          {form?.layouts && (
            <label className="flex items-center gap-2">
              Layout
              <Select
                label="Layout"
                value={layout}
                onChange={setLayout}
                options={[
                  { value: "", name: "As it was written" },
                  ...layouts.map((l) => ({ value: l.layout, name: l.name, about: l.use })),
                ]}
              />
            </label>
          )}
          {form?.layouts && <OfPDFs pdf={pdf} onPDF={setPDF} />}
          {form && !form.whole && name !== "txt" && pictured && (
            <fieldset>
              <legend className="mb-1 font-bold">Pictures</legend>
              {qualities.map((q) => (
                <label key={q.name} className="flex items-baseline gap-2 py-0.5">
                  <input
                    type="radio"
                    name="quality"
                    checked={q.quality === quality || JSON.stringify(q.quality) === JSON.stringify(quality)}
                    onChange={() => setQuality(q.quality)}
                  />
                  <span className="flex-1">{q.name}</span>
                  <Weight document={document} seq={props.seq} order={{ ...weighs, quality: q.quality }} />
                </label>
              ))}
            </fieldset>
          )}
          {edits && form && !form.whole && <Whereto where={where} onWhere={setWhere} />}
          {form && !form.whole && !where && !revision && steps.length > 1 && (
            <Choice places={places} left={left} onLeft={setLeft} taken={taken.length} of={steps.length} />
          )}
        </div>
      </div>
      {(order.error ?? stand.error) && (
        <p role="alert" className="mt-3 text-mustfix">
          {(order.error ?? stand.error)?.message}
        </p>
      )}
      <div className="mt-5 flex flex-wrap items-center justify-end gap-2">
        <Button why={none} onClick={() => copy("rich", "Copied with its pictures. Paste it where it is needed.")}>
          Copy with pictures
        </Button>
        <Button why={none} onClick={() => copy("markdown", "Copied as Markdown, without pictures.")}>
          Copy as Markdown
        </Button>
        <span className="flex-1" />
        <Button onClick={props.onDone}>Cancel</Button>
        <Button
          look="main"
          disabled={order.isPending || stand.isPending}
          why={none || (!form && "Choose a format first.")}
          onClick={() => {
            if (!where || form?.whole) return order.mutate({ document, ...wanted }, { onSuccess: props.onDone });
            stand.mutate(
              { order: wanted, ...where },
              {
                onSuccess: () => {
                  notice({
                    text: "It is put there now, and at each release. Under Deliveries you see whether it was.",
                  });
                  props.onDone();
                },
              },
            );
          }}
        >
          Make it
        </Button>
      </div>
    </Panel>
  );
}

/** What it is made from: the document as it is, or an earlier revision, which is stamped as replaced. */
function From(props: { document: string; revision: number | undefined; onRevision: (r: number | undefined) => void }) {
  const history = useQuery(ask("/api/documents/{document}/history", { path: { document: props.document } }));
  const made = history.data?.filter((h) => h.revision) ?? [];
  if (made.length < 2) return null; // there is none but the present one
  return (
    <label className="flex items-center gap-2">
      From
      <select
        value={props.revision ?? ""}
        onChange={(e) => props.onRevision(Number(e.target.value) || undefined)}
        className={`min-w-0 ${box}`}
      >
        <option value="">the document as it is now</option>
        {made.map((h, i) => (
          <option key={h.revision} value={h.revision}>
            {shown(h.told).replace(/\.$/, "")}
            {i > 0 && ", replaced"}
          </option>
        ))}
      </select>
    </label>
  );
}

/** How large a file will be: it is made, and weighed. */
function Weight(props: { document: string; seq: number; order: Order }) {
  const { document, order } = props;
  const weighed = useQuery({
    queryKey: ["weight", document, props.seq, order],
    queryFn: ({ signal }) =>
      expect(api.POST("/api/documents/{document}/weighed", { params: { path: { document } }, body: order, signal })),
    staleTime: 60_000,
    retry: false,
  });
  const said = weighed.isPending
    ? "…"
    : weighed.data?.bytes
      ? sizeOf(weighed.data.bytes)
      : weighed.data
        ? "takes long to tell"
        : "";
  return <span className="text-soft tabular-nums">{said}</span>;
}

/** The steps to take, by their sections. */
function Choice(props: {
  places: Pages["places"];
  left: ReadonlySet<string>;
  onLeft: (left: ReadonlySet<string>) => void;
  taken: number;
  of: number;
}) {
  const { places, left, onLeft } = props;
  const toggle = (blocks: string[], take: boolean) => {
    const next = new Set(left);
    for (const b of blocks) {
      if (take) next.delete(b);
      else next.add(b);
    }
    onLeft(next);
  };
  // A heading stands for all that is below it, up to the next of its level.
  const below = (at: number) => {
    const depth = places[at]?.depth ?? 0;
    const inside: string[] = [];
    for (const p of places.slice(at + 1)) {
      const heads = p.type === "section" || p.type === "chapter";
      if (heads && p.depth <= depth) break;
      if (!heads) inside.push(p.block);
    }
    return inside;
  };
  return (
    <fieldset className="min-w-0">
      <legend className="mb-1 font-bold">
        Steps, {props.taken === props.of ? "all" : `${props.taken} of ${props.of}`}
      </legend>
      <ul className="max-h-52 overflow-y-auto rounded border border-line px-3 py-1">
        {places.map((p, i) => {
          const heads = p.type === "section" || p.type === "chapter";
          const blocks = heads ? below(i) : [p.block];
          return (
            <li key={p.block} className={p.depth > 0 && !heads ? "pl-5" : ""}>
              <label className={`flex items-baseline gap-2 py-0.5 ${heads ? "font-bold" : ""}`}>
                <input
                  type="checkbox"
                  checked={blocks.every((b) => !left.has(b))}
                  onChange={(e) => toggle(blocks, e.target.checked)}
                />
                <span className="min-w-0 flex-1 truncate">
                  {p.number} {shown(p.label) || "Words between steps"}
                </span>
              </label>
            </li>
          );
        })}
      </ul>
    </fieldset>
  );
}
