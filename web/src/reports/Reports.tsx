import { useQuery } from "@tanstack/react-query";
import { useNavigate, useSearchParams } from "react-router";
import { type Account, api, expect } from "../api/client";
import { useEvents } from "../api/events";
import { loadCore } from "../core/core";
import { DocumentRow } from "../library/DocumentRow";
import { Places, TopBar } from "../shell/TopBar";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { Failed, Loading } from "../ui/states";
import { useTitle } from "../ui/title";
import { Toggles } from "../ui/toggles";
import { beginReport, type ReportKind } from "./begin";

const kinds = { report: "Bug reports", request: "Support requests" };

/** Bug reports and support requests, the last changed first. */
export function Reports({ account }: { account: Account }) {
  useTitle("Reports");
  const navigate = useNavigate();
  const notice = useNotice();
  const [search, setSearch] = useSearchParams();
  const kind: ReportKind = search.get("kind") === "request" ? "request" : "report";
  const list = useQuery({
    queryKey: ["documents", "reports", kind],
    queryFn: () => expect(api.GET("/api/search", { params: { query: { kind } } })),
  });
  useEvents({ document: () => void list.refetch(), opened: () => void list.refetch() });
  const begin = async () => {
    try {
      await loadCore();
      await navigate(await beginReport(kind));
    } catch (e) {
      notice({ text: (e as Error).message });
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
            value={kind}
            options={kinds}
            onPick={(k) => setSearch(k === "report" ? {} : { kind: k }, { replace: true })}
          />
          <Button look="main" onClick={() => void begin()}>
            {kind === "report" ? "Report a fault" : "Ask for help"}
          </Button>
        </div>
        {list.isPending && <Loading what="the reports" />}
        {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
        {list.data?.length === 0 && (
          <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">
            {kind === "report" ? "No faults are reported yet." : "Nobody has asked yet."} The fastest way: open Picture,
            paste a screen, mark what matters, and press {kind === "report" ? "Report a fault" : "Ask for help"} there.
          </p>
        )}
        {list.data && list.data.length > 0 && (
          <ul aria-label={kinds[kind]} className="rounded border border-line bg-paper">
            {list.data.map((h) => (
              <DocumentRow key={h.document.id} hit={h} edits />
            ))}
          </ul>
        )}
      </main>
    </>
  );
}
