import { Select } from "../../base/ui/Select";
import { momentOf } from "../../base/format";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Question } from "../../base/api/ask";
import { type Account, api, expect, type TrailAct } from "../../base/api/client";
import { SetupPage } from "../../parts/bar/SetupPage";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { acts } from "../../parts/house/acts";
import { usePeople } from "../../parts/house/usePeople";
import { keysOf } from "../../base/typed";
import { beginning } from "../../base/api/ask";

const field = "rounded border border-soft bg-paper px-2 py-1.5";

/** What was done in the house, the last first; it can be filtered and taken as a file. */
export function Trail({ account }: { account: Account }) {
  const { list: people } = usePeople();
  const [asked, setAsked] = useState<{ act?: TrailAct; account?: string; from?: string; to?: string }>({});
  const set = (change: typeof asked) =>
    setAsked(Object.fromEntries(Object.entries({ ...asked, ...change }).filter(([, v]) => v)));
  const lines = useInfiniteQuery({
    queryKey: ["/api/trail", asked] satisfies [Question, unknown],
    staleTime: 0,
    initialPageParam: beginning<number>(),
    queryFn: ({ pageParam }) => expect(api.GET("/api/trail", { params: { query: { ...asked, before: pageParam } } })),
    getNextPageParam: (last) => (last.length === 100 ? last.at(-1)?.id : undefined),
  });
  const all = lines.data?.pages.flat() ?? [];
  return (
    <SetupPage
      account={account}
      title="What was done"
      about="Every act that matters later, with who and when. Lines are only ever added; nobody can change them or take them away."
    >
      <div className="mb-3 flex flex-wrap items-end gap-3">
        <Select<TrailAct | "">
          label="Act"
          value={asked.act ?? ""}
          onChange={(act) => set({ act: act || undefined })}
          options={[{ value: "", name: "Every act" }, ...keysOf(acts).map((act) => ({ value: act, name: acts[act] }))]}
        />
        <Select
          label="Person"
          value={asked.account ?? ""}
          onChange={(account) => set({ account })}
          options={[
            { value: "", name: "Everybody" },
            ...(people.data ?? []).map((p) => ({ value: p.id, name: p.displayName })),
          ]}
        />
        <label className="text-soft">
          from{" "}
          <input
            type="date"
            className={field}
            value={asked.from ?? ""}
            onChange={(e) => set({ from: e.target.value })}
          />
        </label>
        <label className="text-soft">
          to{" "}
          <input type="date" className={field} value={asked.to ?? ""} onChange={(e) => set({ to: e.target.value })} />
        </label>
        <span className="flex-1" />
        <a
          href={`/api/trail.csv?${new URLSearchParams(asked)}`}
          download
          className="rounded border border-line bg-paper px-3 py-1.5 hover:border-soft"
        >
          Take it as a file (CSV)
        </a>
      </div>
      {lines.isPending && <Loading what="what was done" />}
      {lines.error && <Failed error={lines.error} again={() => void lines.refetch()} />}
      {lines.data && all.length === 0 && (
        <p className="rounded border border-line bg-paper px-4 py-8 text-center text-soft">
          Nothing of that kind was done.
        </p>
      )}
      {all.length > 0 && (
        <ol className="divide-y divide-line rounded border border-line bg-paper">
          {all.map((l) => (
            <li key={l.id} className="grid gap-x-4 px-4 py-1.5 sm:grid-cols-[9.5rem_minmax(0,1fr)]">
              <time dateTime={l.at} className="text-soft">
                {momentOf(l.at)}
              </time>
              <span>
                {l.who ? <b>{shown(l.who)}</b> : "Raconte"} {acts[l.act]}{" "}
                {l.document ? (
                  <Link to={`/d/${l.document}`} className="text-action underline">
                    “{shown(l.about)}”
                  </Link>
                ) : l.act === "access" ? (
                  <>of {shown(l.about)}</>
                ) : (
                  <>“{shown(l.about)}”</>
                )}
                {l.told && <span className="text-soft">: {shown(l.told)}</span>}
              </span>
            </li>
          ))}
        </ol>
      )}
      {lines.hasNextPage && (
        <Button className="mt-3" disabled={lines.isFetchingNextPage} onClick={() => void lines.fetchNextPage()}>
          Show earlier
        </Button>
      )}
    </SetupPage>
  );
}
