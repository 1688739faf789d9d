import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { api, expect, type Facts, type Summary } from "../../base/api/client";
import { FolderChoice } from "../../parts/library/FolderChoice";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { PersonChoice } from "../../parts/house/PersonChoice";
import { shown } from "../../base/ui/shown";
import type { Draft } from "../../parts/document/draft";

const people = [
  ["owner", "Owner", "Who answers for it and is asked about it."],
  ["author", "Author", "Who wrote it."],
  ["approver", "Approver", "Who says that it is right."],
] as const;

const hows = { does: "hands over to it", holds: "has it as a chapter", refers: "refers to it" };

/** What a document is apart from its blocks, where it lies, and what leads to it. Every field may stay empty. */
export function Control({ id, draft, onDone }: { id: string; draft: Draft; onDone: () => void }) {
  const { facts } = draft;
  const notice = useNotice();
  const path = { params: { path: { document: id } } };
  const summary = useQuery({
    ...ask("/api/documents/{document}", path.params),
    staleTime: 0,
    select: (whole) => whole.summary,
  });
  const links = useQuery({ ...ask("/api/documents/{document}/links", path.params), staleTime: 0 });
  const alike = useQuery({ ...ask("/api/documents/{document}/alike", path.params), staleTime: 0 });
  const set = (label: string, change: Partial<Facts>) => draft.setFacts(label, change, true);
  const attempt = async (work: Promise<Summary>) => {
    try {
      await work;
      await draft.catchUp();
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const place = (body: { folder?: string; template?: boolean }) =>
    void attempt(expect(api.PUT("/api/documents/{document}/place", { ...path, body })));
  return (
    <Panel title="About this document" wide onDone={onDone}>
      <div className="grid max-h-[62vh] gap-x-6 gap-y-3 overflow-y-auto pr-2 pl-1 -ml-1 sm:grid-cols-2">
        <Line label="Number" meaning="Given once; no other document ever gets it.">
          {draft.knownNumber ? (
            <p className="py-1 font-bold">{shown(facts.number ?? "")}</p>
          ) : (
            <span className="flex gap-2">
              <Text label="Number" value={facts.number} onDone={(number) => set("Give a number", { number })} />
              <Button onClick={() => void attempt(expect(api.POST("/api/documents/{document}/number", path)))}>
                Give the next
              </Button>
            </span>
          )}
        </Line>
        <Line label="Folder" meaning="Who may open the folder may open the document.">
          <FolderChoice value={summary.data?.folder ?? ""} onChange={(folder) => place({ folder })} />
        </Line>
        {people.map(([key, label, meaning]) => (
          <Line key={key} label={label} meaning={meaning}>
            <PersonChoice
              label={label}
              value={facts[key]}
              onChange={(name) => set(`Change the ${label.toLowerCase()}`, { [key]: name })}
            />
          </Line>
        ))}
        <Line label="Classification" meaning="How far it may go: public, internal, confidential.">
          <Text
            label="Classification"
            value={facts.classification}
            list="classes"
            onDone={(classification) => set("Change the classification", { classification })}
          />
        </Line>
        <Line label="Holds from" meaning="The day from which people work by it.">
          <Day
            label="Holds from"
            value={facts.effective}
            onDone={(effective) => set("Change the day", { effective })}
          />
        </Line>
        <Line label="Next review" meaning="The day by which someone looks whether it is still right.">
          <span className="flex items-center gap-2">
            <Day label="Next review" value={facts.review} onDone={(review) => set("Change the review", { review })} />
            <label className="flex items-center gap-1 text-sm text-soft">
              then every
              <input
                type="number"
                aria-label="Months between reviews"
                min={0}
                max={120}
                value={facts.every ?? ""}
                onChange={(e) =>
                  set("Change the review", { every: Math.min(120, Math.max(0, Number(e.target.value))) || undefined })
                }
                className="w-14 rounded border border-soft px-1 py-0.5 text-ink"
              />
              months
            </label>
          </span>
        </Line>
        <Line label="Reason for the change" meaning="What is new in the next revision, for those who follow it.">
          <Text
            label="Reason for the change"
            value={facts.reason}
            most={500}
            onDone={(reason) => set("Change the reason", { reason })}
          />
        </Line>
        <Line label="Keywords" meaning="Words by which it is found, with commas between.">
          <Text
            label="Keywords"
            value={facts.keywords?.join(", ")}
            most={1000}
            onDone={(text) => set("Change the keywords", { keywords: listOf(text, 30) })}
          />
        </Line>
        {draft.kind === "manual" && (
          <Line label="Words for the index" meaning="Besides the names of controls, with commas between.">
            <Text
              label="Words for the index"
              value={facts.indexed?.join(", ")}
              most={5000}
              onDone={(text) => set("Change the index", { indexed: listOf(text, 500) })}
            />
          </Line>
        )}
        <div className="space-y-1">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4"
              checked={facts.lettered ?? false}
              onChange={(e) => set("Count revisions otherwise", { lettered: e.target.checked || undefined })}
            />
            Revisions are A, B, C
          </label>
          {draft.kind !== "filed" && (
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="size-4"
                checked={summary.data?.template ?? false}
                onChange={(e) => place({ template: e.target.checked })}
              />
              Offer it as a start for new documents
            </label>
          )}
        </div>
        <section className="sm:col-span-2" aria-labelledby="leads-here">
          <Link to={`/?usedIn=${id}`} className="text-action underline" onClick={onDone}>
            See all that this document leads to
          </Link>
          <h3 id="leads-here" className="mt-3 font-bold">
            What leads here
          </h3>
          {links.data?.length === 0 && <p className="text-soft">No document leads here.</p>}
          <ul>
            {links.data?.map((l) => (
              <li key={l.id + l.how}>
                <Link to={`/d/${l.id}/write?block=${l.block}`} className="text-action hover:underline" onClick={onDone}>
                  {shown(l.title)}
                </Link>{" "}
                {hows[l.how]}
                {l.draft && ", in its draft"}
              </li>
            ))}
          </ul>
          {(alike.data?.length ?? 0) > 0 && (
            <>
              <h3 className="mt-3 font-bold">Much the same</h3>
              <ul>
                {alike.data?.map((a) => (
                  <li key={a.document.id}>
                    <Link to={`/d/${a.document.id}/write`} className="text-action hover:underline" onClick={onDone}>
                      {shown(a.document.title)}
                    </Link>{" "}
                    has {a.share} % of these steps
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
      </div>
      <datalist id="classes">
        {["Public", "Internal", "Confidential"].map((c) => (
          <option key={c} value={c} />
        ))}
      </datalist>
      <div className="mt-5 flex justify-end">
        <Button look="main" onClick={onDone}>
          Done
        </Button>
      </div>
    </Panel>
  );
}

const listOf = (text: string | undefined, most: number) => {
  const all = [...new Set((text ?? "").split(",").map((k) => k.trim().slice(0, 100)))].filter(Boolean).slice(0, most);
  return all.length > 0 ? all : undefined;
};

function Line({ label, meaning, children }: { label: string; meaning: string; children: ReactNode }) {
  return (
    <div>
      <p className="font-bold">{label}</p>
      {children}
      <p className="mt-0.5 text-sm text-soft">{meaning}</p>
    </div>
  );
}

function Text(props: {
  label: string;
  value?: string;
  list?: string;
  most?: number;
  onDone: (text: string | undefined) => void;
}) {
  const [text, setText] = useState<string>();
  const done = () => {
    if (text !== undefined && text.trim() !== (props.value ?? "")) props.onDone(text.trim() || undefined);
    setText(undefined);
  };
  return (
    <input
      aria-label={props.label}
      list={props.list}
      maxLength={props.most ?? 100}
      value={text ?? props.value ?? ""}
      onChange={(e) => setText(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      className="w-full min-w-0 rounded border border-soft bg-paper px-2 py-1"
    />
  );
}

function Day(props: { label: string; value?: string; onDone: (day: string | undefined) => void }) {
  return (
    <input
      type="date"
      aria-label={props.label}
      value={props.value ?? ""}
      onChange={(e) => props.onDone(e.target.value || undefined)}
      className="rounded border border-soft bg-paper px-2 py-1"
    />
  );
}
