import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
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
import { Select } from "../../base/ui/Select";
import { asksOf } from "../../base/api/kinds";

/** A quiet hint that another document says much the same. */
function Alike({ id }: { id: string }) {
  const alike = useQuery(ask("/api/documents/{document}/alike", { path: { document: id } }));
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
            <Select
              label="Written for"
              className="max-w-60"
              value={facts.layout ?? ""}
              onChange={(layout) => draft.setFacts("Write for another layout", { layout: layout || undefined })}
              options={[
                { value: "", name: style ? `${layoutName(style.style.layout)}, as its style` : "as its style" },
                ...layouts.map((l) => ({ value: l.layout, name: l.name.toLowerCase(), about: l.use })),
              ]}
            />
          </label>
        )}
        {draft.kind !== "filed" && (
          <label className="flex items-center gap-2">
            Style
            <Select
              label="Style"
              className="max-w-40"
              value={facts.style ?? ""}
              onChange={(style) => draft.setFacts("Give it another style", { style: style || undefined })}
              options={[
                { value: "", name: "the usual" },
                ...(facts.style && styles.data && !styles.data.some((s) => s.id === facts.style)
                  ? [{ value: facts.style, name: "one that was deleted" }]
                  : []),
                ...(styles.data ?? []).map((s) => ({ value: s.id, name: s.style.name })),
              ]}
            />
          </label>
        )}
        {draft.kind === "procedure" && draft.blocks().some((r) => r.content.type === "section") && (
          <label className="flex items-center gap-2">
            Steps are counted
            <Select
              label="Steps are counted"
              value={draft.facts.counting ?? ""}
              onChange={(counting) =>
                draft.setFacts("Count steps otherwise", { counting: counting === "section" ? "section" : undefined })
              }
              options={[
                { value: "", name: "through the document" },
                { value: "section", name: "from 1 in each section" },
              ]}
            />
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
