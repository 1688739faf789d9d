import { reasonOf } from "../../base/reason";
import { ask, type Question, beginning } from "../../base/api/ask";
import { dayOf } from "../../base/format";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { type Account, api, expect, type Taken } from "../../base/api/client";
import { loadCore } from "../../base/core/core";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { altOf, captionOf } from "../../parts/shots/use";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";

/** Documents and shots that were deleted, for as long as they can come back. */
export function Deleted({ account }: { account: Account }) {
  useTitle("Deleted");
  const notice = useNotice();
  const documents = useQuery(ask("/api/deleted"));
  const found = useInfiniteQuery({
    queryKey: ["/api/shots", "deleted"] satisfies [Question, string],
    initialPageParam: beginning<Taken>(),
    queryFn: async ({ pageParam: last }) => {
      await loadCore();
      const query = { discarded: true, ...(last && { after: last.about.taken, afterId: last.id }) };
      return expect(api.GET("/api/shots", { params: { query } }));
    },
    getNextPageParam: (page) => (page.length < 120 ? undefined : page[page.length - 1]),
  });
  const shots = found.data?.pages.flat() ?? [];
  const restore = async (work: Promise<unknown>, said: string) => {
    try {
      await work;
      notice({ text: said });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const problem = documents.error ?? found.error;
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-5xl px-4 py-6">
        <h1 className="text-2xl font-bold">Deleted</h1>
        <p className="mt-1 mb-5 max-w-prose text-soft">
          What was deleted stays here for 30 days. Restored, it is where it was, with all that belongs to it.
        </p>
        {(documents.isPending || found.isPending) && <Loading what="what was deleted" />}
        {problem && (
          <Failed
            error={problem}
            again={() => {
              void documents.refetch();
              void found.refetch();
            }}
          />
        )}
        <h2 className="mb-2 text-lg font-bold">Documents</h2>
        {documents.data?.length === 0 && <p className="mb-6 text-soft">No document was deleted in the last 30 days.</p>}
        {documents.data && documents.data.length > 0 && (
          <ul aria-label="Deleted documents" className="mb-6 divide-y divide-line rounded border border-line bg-paper">
            {documents.data.map(({ document: d, at, goes }) => (
              <li key={d.id} className="flex items-center gap-4 px-4 py-2.5">
                <span className="min-w-0 flex-1">
                  <strong className="block truncate">{shown(d.title)}</strong>
                  <span className="text-sm text-soft">
                    Deleted by {d.changedBy} on {dayOf(at)}. Goes for good on {dayOf(goes)}.
                  </span>
                </span>
                <Button
                  aria-label={`Restore ${d.title}`}
                  onClick={() =>
                    void restore(
                      expect(api.POST("/api/documents/{document}/restore", { params: { path: { document: d.id } } })),
                      `“${shown(d.title)}” is in the library again.`,
                    )
                  }
                >
                  Restore
                </Button>
              </li>
            ))}
          </ul>
        )}
        <h2 className="mb-2 text-lg font-bold">My shots</h2>
        {found.data && shots.length === 0 && (
          <p className="text-soft">
            None of your shots is deleted. Those you have are under{" "}
            <Link to="/capture/shots" className="text-action underline">
              My shots
            </Link>
            .
          </p>
        )}
        <ul aria-label="Deleted shots" className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-4">
          {shots.map((t) => (
            <li key={t.id} className="overflow-hidden rounded border border-line bg-paper">
              <img
                src={`/api/shots/${t.id}/preview`}
                loading="lazy"
                alt={altOf(t)}
                className="h-32 w-full bg-desk object-cover object-top"
              />
              <div className="space-y-1 px-2 py-1.5 text-sm">
                <p className="truncate font-bold">{captionOf(t)}</p>
                <p className="text-soft">{t.goes ? `Goes on ${dayOf(t.goes)}` : "Stays: a document uses it"}</p>
                <Button
                  small
                  onClick={() =>
                    void restore(
                      expect(api.PUT("/api/shots/discarded", { body: { shots: [t.id], discarded: false } })),
                      "The shot is back in its session.",
                    )
                  }
                >
                  Restore
                </Button>
              </div>
            </li>
          ))}
        </ul>
        {found.hasNextPage && (
          <p className="py-6 text-center">
            <Button onClick={() => void found.fetchNextPage()}>Show earlier ones</Button>
          </p>
        )}
      </main>
    </>
  );
}
