import { beside } from "../../base/api/beside";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, expect, mayEdit, type Review } from "../../base/api/client";
import { Button, Field } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { unsent } from "../../base/ui/unsent";
import { sayDay, until } from "../../base/format";
import { useApproval, useReviews } from "../../parts/reviews/useReviews";

const answers = { fine: "No objection", changes: "Asks for changes", signed: "Signed", refused: "Does not approve" };

/** What is asked of this person, who was asked besides, and what they say. */
export function Answers({ id, account }: { id: string; account: Account }) {
  const reviews = useReviews(id);
  const approval = useApproval(id);
  const open = reviews.data?.filter((r) => !r.closedAt) ?? [];
  const last = reviews.data?.find((r) => r.closedAt);
  const path = { document: id };
  const end = useMutation({
    mutationFn: (review: string) =>
      expect(api.DELETE("/api/documents/{document}/reviews/{review}", { params: { path: { ...path, review } } })),
  });
  const withdraw = useMutation({
    mutationFn: () => expect(api.DELETE("/api/documents/{document}/approval", { params: { path } })),
  });
  const coming = approval.data?.coming;
  return (
    <>
      {coming && (
        <section
          aria-label="Approved"
          className="rounded border border-line border-l-[3px] border-l-action bg-paper p-4"
        >
          <p>
            Revision {coming.revision} is approved. It is valid from <b>{sayDay(coming.holdsFrom)}</b>; until then the
            present one stays.
          </p>
          {mayEdit(account) && (
            <Button small className="mt-2" onClick={() => withdraw.mutate()}>
              Withdraw it
            </Button>
          )}
        </section>
      )}
      {open.map((r) => (
        <section
          key={r.id}
          aria-label={r.approval ? "Approval" : "Review"}
          className="rounded border border-line bg-paper p-4"
        >
          <h2 className="font-bold">{r.approval ? "To be approved" : "To be looked at"}</h2>
          <p className="text-sm text-soft">
            {shown(r.askedBy)} asks
            {r.due && (
              <>
                , by {sayDay(r.due)} (
                <span className={until(r.due).late ? "text-mustfix" : ""}>{until(r.due).said}</span>)
              </>
            )}
            .{r.holdsFrom && ` Valid from ${sayDay(r.holdsFrom)}.`}
          </p>
          {r.note && <p className="mt-1 whitespace-pre-wrap">{shown(r.note)}</p>}
          {r.changed && (
            <p className="mt-2 border-l-[3px] border-call pl-2 text-sm">
              The document has changed since it was sent.
              {r.approval && " It can’t be signed: approval has to be asked for again."}
            </p>
          )}
          <People review={r} />
          {r.people.some((p) => p.me && !p.answer) &&
            (r.approval ? !r.changed && <Sign account={account} review={r} /> : <Answer review={r} />)}
          {mayEdit(account) && r.mine && (
            <Button small className="mt-3" onClick={() => end.mutate(r.id)}>
              Wait no longer
            </Button>
          )}
        </section>
      ))}
      {open.length === 0 && !coming && (
        <section aria-label="Review" className="rounded border border-line bg-paper p-4">
          <h2 className="font-bold">
            {last ? (last.outcome === "approved" ? "Approved" : "Last answers") : "Nobody was asked yet"}
          </h2>
          {last ? <People review={last} /> : <p className="text-sm text-soft">{approval.data?.said}.</p>}
        </section>
      )}
    </>
  );
}

function People({ review }: { review: Review }) {
  return (
    <ul className="mt-2 space-y-1.5">
      {review.people.map((p) => (
        <li key={p.id}>
          <span className="flex gap-2">
            <b className="flex-1">{shown(p.name)}</b>
            <span className={p.answer === "changes" || p.answer === "refused" ? "text-mustfix" : "text-soft"}>
              {p.answer ? answers[p.answer] : "has not answered"}
            </span>
          </span>
          {p.words && <span className="block text-sm whitespace-pre-wrap">{shown(p.words)}</span>}
          {p.answer && p.changed && <span className="block text-sm text-soft">before later changes</span>}
        </li>
      ))}
    </ul>
  );
}

function Words({
  keep,
  label,
  value,
  onChange,
}: {
  keep: string;
  label: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <label className="mt-3 block">
      <span className="mb-1 block text-sm text-soft">{label}</span>
      <textarea
        rows={3}
        maxLength={4000}
        value={value}
        onChange={(e) => {
          unsent.set(keep, e.target.value);
          onChange(e.target.value);
        }}
        className="w-full rounded border border-soft bg-paper px-2 py-1"
      />
    </label>
  );
}

/** Says whether there is an objection. */
function Answer({ review }: { review: Review }) {
  const keep = `answer to ${review.id}`;
  const [words, setWords] = useState(unsent.get(keep) ?? "");
  const answer = useMutation({
    ...beside,
    mutationFn: (answer: "fine" | "changes") =>
      expect(
        api.POST("/api/documents/{document}/reviews/{review}", {
          params: { path: { document: review.document, review: review.id } },
          body: { answer, words },
        }),
      ),
    onSuccess: () => unsent.delete(keep),
  });
  return (
    <div>
      <Words keep={keep} label="In a few words, if you like" value={words} onChange={setWords} />
      {answer.error && (
        <p role="alert" className="text-mustfix">
          {answer.error.message}
        </p>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button look="main" disabled={answer.isPending} onClick={() => answer.mutate("fine")}>
          No objection
        </Button>
        <Button disabled={answer.isPending} onClick={() => answer.mutate("changes")}>
          Ask for changes
        </Button>
      </div>
    </div>
  );
}

/** Signs, with the password again, or refuses to. */
function Sign({ review, account }: { review: Review; account: Account }) {
  const keep = `answer to ${review.id}`;
  const [words, setWords] = useState(unsent.get(keep) ?? "");
  const [password, setPassword] = useState("");
  const sign = useMutation({
    ...beside,
    mutationFn: (refuse: boolean) =>
      expect(
        api.POST("/api/documents/{document}/reviews/{review}/signature", {
          params: { path: { document: review.document, review: review.id } },
          body: { digest: review.digest, password, refuse, words },
        }),
      ),
    onSuccess: () => unsent.delete(keep),
    onSettled: () => setPassword(""),
  });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        sign.mutate(false);
      }}
    >
      <Words keep={keep} label="In a few words, if you like" value={words} onChange={setWords} />
      <div className="mt-2">
        {account.password ? (
          <Field
            label="Your password, to sign"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
          />
        ) : (
          <p className="text-sm">
            Your house’s sign-in has to say that it is you, within the five minutes before you sign:{" "}
            <a
              className="text-action underline"
              href={`/api/identity?${new URLSearchParams({ to: location.pathname + location.search, fresh: "true" })}`}
            >
              Sign in there once more
            </a>
          </p>
        )}
      </div>
      <p className="mt-1 text-sm text-soft">
        You sign exactly what stands here: <span className="font-mono">{review.digest.slice(0, 12)}</span>. Your name,
        the day and this number are printed on the pages.
      </p>
      {sign.error && (
        <p role="alert" className="text-mustfix">
          {sign.error.message}
        </p>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          look="main"
          type="submit"
          disabled={sign.isPending}
          why={account.password && !password && "Type your password: it is your signature."}
        >
          Sign
        </Button>
        <Button disabled={sign.isPending} onClick={() => sign.mutate(true)}>
          Do not approve
        </Button>
      </div>
    </form>
  );
}
