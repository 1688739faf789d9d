import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { type Account, type Confirmation, mayReview, type Review } from "../../base/api/client";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { Due } from "./Due";
import { until } from "../../base/format";

/** What waits for this person, the soonest first, and what they wait for. */
export function Reviews({ account }: { account: Account }) {
  useTitle("Reviews");
  const reviews = useQuery({ ...ask("/api/reviews"), enabled: mayReview(account) });
  const confirmations = useQuery(ask("/api/confirmations"));
  const waiting = reviews.data?.filter((r) => r.people.some((p) => p.me && !p.answer)) ?? [];
  const asked = reviews.data?.filter((r) => r.mine) ?? [];
  const toRead = confirmations.data?.filter((c) => !c.confirmed) ?? [];
  const ready = confirmations.data && (reviews.data || !mayReview(account));
  const error = reviews.error ?? confirmations.error;
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-4xl px-4 py-6">
        <h1 className="mb-4 text-2xl font-bold">Reviews</h1>
        {error && <Failed error={error} again={() => void Promise.all([reviews.refetch(), confirmations.refetch()])} />}
        {!ready && !error && <Loading what="what waits for you" />}
        {ready && (
          <>
            <section aria-labelledby="waiting" className="mb-6">
              <h2 id="waiting" className="mb-2 text-lg font-bold">
                Waiting for you
              </h2>
              {waiting.length + toRead.length === 0 ? (
                <p className="rounded border border-line bg-paper px-4 py-8 text-center text-soft">
                  Nothing waits for you. When someone asks you to look at a document, to approve or to read it, it
                  stands here.
                </p>
              ) : (
                <ul className="divide-y divide-line rounded border border-line bg-paper">
                  {waiting.map((r) => (
                    <Line
                      key={r.id}
                      to={`/d/${r.document}/review`}
                      title={r.title}
                      what={r.approval ? "Approve" : "Look at"}
                      told={`${r.askedBy} asks${r.note ? `: ${r.note}` : ""}`}
                      due={r.due}
                    />
                  ))}
                  {toRead.map((c: Confirmation) => (
                    <Line
                      key={c.document}
                      to={`/d/${c.document}`}
                      title={c.title}
                      what="Read"
                      told="and confirm that you have understood it"
                      due={c.due}
                    />
                  ))}
                </ul>
              )}
            </section>
            <Due account={account} />
            {asked.length > 0 && (
              <section aria-labelledby="asked">
                <h2 id="asked" className="mb-2 text-lg font-bold">
                  What you wait for
                </h2>
                <ul className="divide-y divide-line rounded border border-line bg-paper">
                  {asked.map((r) => (
                    <Line
                      key={r.id}
                      to={`/d/${r.document}/review`}
                      title={r.title}
                      what={r.approval ? "Approval" : "Review"}
                      told={standing(r)}
                      due={r.due}
                    />
                  ))}
                </ul>
              </section>
            )}
          </>
        )}
      </main>
    </>
  );
}

/** How far a review is: "1 of 3 have answered, Adaeze Quillan asks for changes". */
function standing(r: Review): string {
  const answered = r.people.filter((p) => p.answer);
  const changes = r.people.filter((p) => p.answer === "changes").map((p) => p.name);
  return [
    `${answered.length} of ${r.people.length} ${r.approval ? "signed" : "answered"}`,
    ...(changes.length > 0 ? [`changes asked by ${changes.join(", ")}`] : []),
    ...(r.changed ? ["the document has changed since"] : []),
  ].join("; ");
}

function Line(props: { to: string; title: string; what: string; told: string; due?: string }) {
  const due = props.due ? until(props.due) : undefined;
  return (
    <li className="flex items-baseline gap-4 px-4 py-3">
      <span className="w-20 shrink-0 text-soft">{props.what}</span>
      <span className="min-w-0 flex-1">
        <Link to={props.to} className="font-bold text-action hover:underline">
          {shown(props.title)}
        </Link>
        <span className="block text-sm text-soft">{shown(props.told)}</span>
      </span>
      {due && (
        <span className={`shrink-0 whitespace-nowrap ${due.late ? "font-bold text-mustfix" : ""}`}>{due.said}</span>
      )}
    </li>
  );
}
