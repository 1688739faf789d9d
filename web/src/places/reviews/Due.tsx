import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Account, api, expect, mayEdit, type Summary } from "../../base/api/client";
import { Button, Field, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { until } from "../../base/format";

/** Documents that this person answers for and that are due to be looked at again. */
export function Due({ account }: { account: Account }) {
  const [asking, setAsking] = useState<Summary>();
  const owed = (due: "overdue" | "soon") =>
    ask("/api/search", { query: { owner: account.displayName, due, sort: "review" } });
  const [overdue, soon] = [useQuery(owed("overdue")), useQuery(owed("soon"))];
  const due = [...(overdue.data ?? []), ...(soon.data ?? [])].map((h) => h.document);
  if (due.length === 0) return null;
  return (
    <section aria-labelledby="due" className="mb-6">
      <h2 id="due" className="mb-2 text-lg font-bold">
        Yours, due to be looked at again
      </h2>
      <ul className="divide-y divide-line rounded border border-line bg-paper">
        {due.map((d) => (
          <li key={d.id} className="flex flex-wrap items-baseline gap-3 px-4 py-3">
            <Link to={`/d/${d.id}`} className="min-w-0 flex-1 font-bold text-action hover:underline">
              {shown(d.title)}
            </Link>
            {d.review && (
              <span className={until(d.review).late ? "font-bold text-mustfix" : ""}>{until(d.review).said}</span>
            )}
            <Button small onClick={() => setAsking(d)}>
              Still valid
            </Button>
            {mayEdit(account) && (
              <Link
                to={`/d/${d.id}/write`}
                className="rounded border border-line px-2 py-0.5 text-sm hover:border-soft"
              >
                Revise
              </Link>
            )}
          </li>
        ))}
      </ul>
      {asking && <StillValid document={asking} onDone={() => setAsking(undefined)} />}
    </section>
  );
}

const inAYear = () => {
  const day = new Date();
  day.setFullYear(day.getFullYear() + 1);
  return day.toISOString().slice(0, 10);
};

/** Says that a document was looked at and is still valid, and when it is looked at next. */
function StillValid({ document, onDone }: { document: Summary; onDone: () => void }) {
  const notice = useNotice();
  const [review, setReview] = useState(inAYear);
  const [note, setNote] = useState("");
  const [problem, setProblem] = useState("");
  const keep = async () => {
    try {
      const path = { document: document.id };
      await expect(api.POST("/api/documents/{document}/still-valid", { params: { path }, body: { review, note } }));
      notice({ text: `“${shown(document.title)}” stays valid.` });
      onDone();
    } catch (e) {
      setProblem(reasonOf(e));
    }
  };
  return (
    <Panel title={`“${shown(document.title)}” is still valid`} onDone={onDone}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <Field label="What was looked at, and by whom" value={note} onChange={setNote} autoFocus />
        <Field label="Look at it again by" type="date" value={review} onChange={setReview} />
        {problem && (
          <p role="alert" className="text-mustfix">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onDone}>Cancel</Button>
          <Button look="main" type="submit" why={!review && "Say on which day."}>
            Keep it
          </Button>
        </div>
      </form>
    </Panel>
  );
}
