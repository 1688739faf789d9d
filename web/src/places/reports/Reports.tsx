import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Account } from "../../base/api/client";
import { UseAnswer } from "../../parts/answers/UseAnswer";
import { Inbox } from "./Inbox";
import { loadCore } from "../../base/core/core";
import { DocumentRow } from "../../parts/library/DocumentRow";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { Toggles } from "../../base/ui/toggles";
import { beginReport, type ReportKind } from "../../parts/reports/begin";

const views = {
  inbox: "Inbox",
  report: "Bug reports",
  request: "Support requests",
  answer: "Stock answers",
};

const kinds = { report: "Bug reports", request: "Support requests", answer: "Stock answers" };

const begins = { report: "Report a fault", request: "Ask for help", answer: "Write an answer" };

const none = {
  report: "No faults are reported yet.",
  request: "Nobody has asked yet.",
  answer: "No answers are kept yet.",
};

/** Bug reports, support requests and stock answers, the last changed first. */
export function Reports({ account }: { account: Account }) {
  useTitle("Reports");
  const navigate = useNavigate();
  const notice = useNotice();
  const [search, setSearch] = useSearchParams();
  const asked = search.get("kind");
  const kind: ReportKind = asked === "request" || asked === "answer" ? asked : "report";
  const inbox = asked === "inbox";
  const [text, setText] = useState("");
  const [using, setUsing] = useState<string>();
  useEffect(() => void loadCore(), []);
  const list = useQuery({
    ...ask("/api/search", { query: { kind, ...(text.trim() && { text: text.trim() }) } }),
    placeholderData: keepPreviousData,
  });
  const begin = async () => {
    try {
      await loadCore();
      await navigate(await beginReport(kind));
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-5xl px-4 py-5">
        <div className="mb-3 flex flex-wrap items-center gap-3">
          <h1 className="mr-auto text-2xl font-bold">Reports</h1>
          <Toggles
            label="Which are listed"
            value={inbox ? "inbox" : kind}
            options={views}
            onPick={(k) => setSearch(k === "report" ? {} : { kind: k }, { replace: true })}
          />
          {!inbox && (
            <Button look="main" onClick={() => void begin()}>
              {begins[kind]}
            </Button>
          )}
        </div>
        {inbox && <Inbox />}
        {!inbox && (
          <>
            <input
              type="search"
              autoFocus
              aria-label={`Find in ${kinds[kind].toLowerCase()}`}
              placeholder="Find by a few letters"
              value={text}
              onChange={(e) => setText(e.target.value)}
              className="mb-3 w-full rounded border border-soft bg-paper px-3 py-2 placeholder:text-soft"
            />
            {list.isPending && <Loading what="the reports" />}
            {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
            {list.data?.length === 0 && (
              <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">
                {text.trim() ? "None has that in it." : none[kind]} The fastest way: open Picture, paste a screen, mark
                what matters, and press “{begins[kind]}” there.
              </p>
            )}
            {list.data && list.data.length > 0 && (
              <ul aria-label={kinds[kind]} className="rounded border border-line bg-paper">
                {list.data.map((h) => (
                  <DocumentRow
                    key={`${h.document.id} ${h.block ?? ""}`}
                    hit={h}
                    edits
                    {...(kind === "answer" && { act: { label: "Use", run: () => setUsing(h.document.id) } })}
                  />
                ))}
              </ul>
            )}
          </>
        )}
      </main>
      {using && <UseAnswer id={using} onDone={() => setUsing(undefined)} />}
    </>
  );
}
