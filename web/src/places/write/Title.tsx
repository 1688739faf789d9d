import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, expect, type Layout } from "../../base/api/client";
import { core } from "../../base/core/core";
import { layoutName, layouts } from "../../parts/house/layouts";
import { styleOf, useHouseStyles } from "../../parts/house/useHouseStyles";
import { Asked } from "../../parts/answers/Asked";
import { useMaking } from "../../parts/reports/making";
import { Proposed } from "../../parts/reports/Proposed";
import { Related } from "../../parts/reports/Related";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { emptyNotice, NoticeEditor } from "./NoticeEditor";
import { Control } from "./Control";
import { Refused } from "./Refused";
import { TimeField } from "./TimeField";
import type { Draft } from "../../parts/document/draft";
import { asksOf } from "../../base/api/kinds";

/** A quiet hint that another document says much the same. */
function Alike({ id }: { id: string }) {
  const alike = useQuery({
    queryKey: ["alike", id],
    queryFn: () => expect(api.GET("/api/documents/{document}/alike", { params: { path: { document: id } } })),
  });
  const [first] = alike.data ?? [];
  if (!first) return null;
  return (
    <span>
      {first.share} % of these steps stand in{" "}
      <Link to={`/d/${first.document.id}/write`} className="text-action underline">
        {shown(first.document.title)}
      </Link>
    </span>
  );
}

export function Title({ id, draft }: { id: string; draft: Draft }) {
  const making = useMaking();
  const [controlled, setControlled] = useState(false);
  const { facts } = draft;
  const styles = useHouseStyles();
  const style = styleOf(styles.data, facts);
  const [text, setText] = useState<string>();
  const ofSteps = draft.blocks().reduce((sum, r) => sum + (r.content.seconds ?? 0), 0);
  const done = () => {
    if (text?.trim()) draft.rename(text.trim());
    setText(undefined);
  };
  return (
    <div className="border-b border-line bg-paper px-4 py-4">
      {draft.kind === "request" && <Asked id={id} draft={draft} />}
      <input
        aria-label="Title"
        maxLength={200}
        value={text ?? draft.title}
        onChange={(e) => setText(e.target.value)}
        onBlur={done}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        className="w-full rounded text-2xl font-bold"
      />
      <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-sm text-soft">
        <Button look="quiet" className="-ml-3 text-sm" onClick={() => setControlled(true)}>
          {facts.number ? `${facts.number}, about this document` : "About this document"}
        </Button>
        <Alike id={id} />
        <Proposed draft={draft} />
        <Related id={id} />
        {draft.kind !== "procedure" && draft.kind !== "manual" && draft.kind !== "filed" && (
          <Button
            look="quiet"
            className="-ml-3 text-sm"
            disabled={making.isPending}
            onClick={() =>
              making.mutate({
                title: draft.title,
                kind: "procedure",
                from: id,
                blocks: draft
                  .blocks()
                  .map((r) => r.content)
                  .filter((c) => !core.empty(c.words) || c.figures.length > 0),
              })
            }
          >
            Make a procedure of it
          </Button>
        )}
        {facts.review && <span>Review by {facts.review}</span>}
        {draft.kind === "procedure" && (
          <label className="flex items-center gap-1">
            Takes
            <TimeField
              label="Time that the whole takes"
              seconds={draft.facts.seconds}
              hint={ofSteps ? `${core.sayTime(ofSteps)}, by its steps` : "12 min"}
              className="w-40"
              onChange={(seconds) => draft.setFacts("Say how long it takes", { seconds: seconds || undefined })}
            />
          </label>
        )}
        {draft.kind === "procedure" && (
          <label className="flex items-center gap-2">
            Written for
            <select
              value={facts.layout ?? ""}
              onChange={(e) =>
                draft.setFacts("Write for another layout", {
                  layout: (e.target.value || undefined) as Layout | undefined,
                })
              }
              className="rounded border border-soft bg-paper px-1 py-0.5 text-ink"
            >
              <option value="">{style ? `${layoutName(style.style.layout)}, as its style` : "as its style"}</option>
              {layouts.map((l) => (
                <option key={l.layout} value={l.layout}>
                  {l.name.toLowerCase()}
                </option>
              ))}
            </select>
          </label>
        )}
        {draft.kind !== "filed" && (
          <label className="flex items-center gap-2">
            Style
            <select
              value={facts.style ?? ""}
              onChange={(e) => draft.setFacts("Give it another style", { style: e.target.value || undefined })}
              className="max-w-40 rounded border border-soft bg-paper px-1 py-0.5 text-ink"
            >
              <option value="">the usual</option>
              {facts.style && styles.data && !styles.data.some((s) => s.id === facts.style) && (
                <option value={facts.style}>one that was deleted</option>
              )}
              {styles.data?.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.style.name}
                </option>
              ))}
            </select>
          </label>
        )}
        {draft.kind === "procedure" && draft.blocks().some((r) => r.content.type === "section") && (
          <label className="flex items-center gap-2">
            Steps are counted
            <select
              value={draft.facts.counting ?? ""}
              onChange={(e) =>
                draft.setFacts("Count steps otherwise", {
                  counting: e.target.value === "section" ? "section" : undefined,
                })
              }
              className="rounded border border-soft bg-paper px-1 py-0.5 text-ink"
            >
              <option value="">through the document</option>
              <option value="section">from 1 in each section</option>
            </select>
          </label>
        )}
        {!draft.facts.notice && !asksOf(draft.kind) && (
          <Button
            look="quiet"
            className="-ml-3 text-sm"
            onClick={() => draft.setFacts("Add a notice", { notice: emptyNotice })}
          >
            Warn before the whole document
          </Button>
        )}
      </div>
      {draft.facts.notice && (
        <div className="mt-3">
          <NoticeEditor
            notice={draft.facts.notice}
            whose="the document"
            onChange={(notice) => draft.setFacts("Write a notice", { notice }, true)}
          />
        </div>
      )}
      {controlled && <Control id={id} draft={draft} onDone={() => setControlled(false)} />}
      <Refused draft={draft} id="" what="What stands here" />
      {draft.factsConflict && (
        <div role="alert" className="mt-2 border-l-[3px] border-mustfix pl-3">
          {draft.factsConflict.title === draft.facts.title ? (
            <p>Someone else changed what stands here, too: the notice, the time or how steps are counted.</p>
          ) : (
            <p>Someone else changed the title to “{draft.factsConflict.title}”.</p>
          )}
          <Button onClick={() => draft.settleFacts("mine")}>Use mine</Button>{" "}
          <Button onClick={() => draft.settleFacts("theirs")}>Use theirs</Button>
        </div>
      )}
    </div>
  );
}
