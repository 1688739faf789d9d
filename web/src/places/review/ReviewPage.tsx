import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Account, type Thread } from "../../base/api/client";
import { Differing } from "../../parts/differences/Differing";
import { aboutPicture } from "../../parts/comments/aboutPicture";
import { Begun } from "../../parts/comments/Begun";
import { useCommenting, useNextComment } from "../../parts/comments/commenting";
import { CommentsMenu } from "../../parts/comments/CommentsMenu";
import { Marked } from "../../parts/comments/Marked";
import { stillThere } from "../../parts/comments/marked";
import { ThreadView } from "../../parts/comments/ThreadView";
import { TopBar } from "../../parts/bar/TopBar";
import { DocumentBar } from "../../parts/bar/DocumentBar";
import { Blank, Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { Toggles } from "../../base/ui/toggles";
import { Refer } from "../../parts/words/refer";
import { Answers } from "./Answers";
import { firstMarker, pictureIn, Reading } from "./Reading";
import { SuggestPicture } from "./SuggestPicture";

const views = { read: "As readers will see it", changes: "What has changed" };

/** A document to be looked at: as its readers will see it, what has changed, what is said of it, and one's answer. */
export function ReviewPage({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const view = search.get("view") === "changes" ? "changes" : "read";
  const path = { document: id };
  const whole = useQuery(ask("/api/documents/{document}", { path, query: { composed: true } }));
  const revision = whole.data?.summary.revision ?? 0;
  const differences = useQuery({
    ...ask("/api/documents/{document}/differences", { path, query: { from: revision } }),
    enabled: view === "changes" && revision > 0,
  });
  useTitle(whole.data && shown(whole.data.summary.title));
  const commenting = useCommenting(id);
  const blocks = useMemo(() => whole.data?.blocks ?? [], [whole.data]);
  const order = useMemo(() => blocks.map((b) => b.id), [blocks]);
  const go = useCallback((t: Thread) => {
    document.querySelector<HTMLElement>(`[data-thread="${CSS.escape(t.id)}"]`)?.focus();
    const block = t.place.block && document.querySelector(`[data-block="${CSS.escape(t.place.block)}"]`);
    if (block) block.scrollIntoView({ block: "center" });
  }, []);
  useNextComment(commenting.threads, order, go);
  const [all, setAll] = useState(false);
  const refer = useMemo(() => ({ names: whole.data?.names ?? {} }), [whole.data]);
  const threads = useMemo(
    () =>
      [...commenting.threads].sort((a, b) => order.indexOf(a.place.block ?? "") - order.indexOf(b.place.block ?? "")),
    [commenting.threads, order],
  );
  const closePicture = useCallback(() => setSearch({}), [setSearch]);
  const redrawing = whole.data && pictureIn(whole.data, search.get("picture") ?? "");
  if (whole.error)
    return (
      <>
        <TopBar account={account} />
        <Blank title="This document can’t be shown">
          {whole.error.message}{" "}
          <Link to="/reviews" className="text-action underline">
            To your reviews
          </Link>
        </Blank>
      </>
    );
  const data = whole.data;
  const about = (t: Thread) => {
    const block = blocks.find((b) => b.id === t.place.block);
    if (!t.place.block) return "About the document";
    if (t.place.figure) return `${aboutPicture(t.place)}${block?.number ? `, step ${block.number}` : ""}`;
    return block
      ? `About ${block.number ? `step ${block.number}` : "this part"}`
      : "About a part that is not there any more";
  };
  return (
    <Refer.Provider value={refer}>
      <DocumentBar account={account} id={id} title={data?.summary.title ?? ""} />
      {!data ? (
        <main className="px-5">
          <Loading what="the document" />
        </main>
      ) : redrawing ? (
        <SuggestPicture
          key={redrawing.figure.id}
          document={id}
          seq={data.seq}
          {...redrawing}
          first={firstMarker(data, redrawing.figure.id)}
          onDone={closePicture}
        />
      ) : (
        <div className="mx-auto grid max-w-7xl gap-6 px-4 py-5 lg:grid-cols-[minmax(0,1fr)_21rem]">
          <main className="min-w-0">
            <div className="mb-3 flex flex-wrap items-center gap-3">
              <Toggles
                label="What to look at"
                value={view}
                options={views}
                onPick={(v) => setSearch(v === "changes" ? { view: v } : {}, { replace: true })}
              />
              {view === "changes" && revision > 0 && (
                <Link to={`/d/${id}/changes?from=${revision}`} className="text-action underline">
                  As a page to print
                </Link>
              )}
              <span className="flex-1" />
              <CommentsMenu commenting={commenting} />
            </div>
            {view === "read" ? (
              <Reading
                data={data}
                threads={threads}
                onComment={commenting.begin}
                onGo={go}
                onSuggest={(figure) => setSearch({ picture: figure })}
              />
            ) : revision === 0 ? (
              <p className="rounded border border-line bg-paper px-4 py-8 text-center text-soft">
                It was never released before: all of it is new.
              </p>
            ) : differences.data ? (
              <>
                <label className="mb-2 flex items-center gap-2">
                  <input type="checkbox" checked={all} onChange={(e) => setAll(e.target.checked)} />
                  Show what has not changed
                </label>
                <Differing id={id} d={differences.data} all={all} />
              </>
            ) : (
              <Loading what="the changes" />
            )}
            <Marked threads={commenting.threads} />
          </main>
          <div className="space-y-4 lg:sticky lg:top-16 lg:max-h-[calc(100dvh-5rem)] lg:self-start lg:overflow-y-auto">
            <Answers id={id} account={account} />
            <aside aria-label="Comments" className="rounded border border-line bg-paper p-4">
              <div className="mb-2 flex items-center gap-2">
                <h2 className="flex-1 font-bold">Comments</h2>
                <Button small onClick={() => commenting.begin({})}>
                  Comment on the whole
                </Button>
              </div>
              {commenting.begun && <Begun document={id} place={commenting.begun} onDone={commenting.end} />}
              {threads.length === 0 && !commenting.begun && (
                <p className="text-sm text-soft">
                  None. Press Comment at a step, or choose words and press Ctrl+Alt+W.
                </p>
              )}
              <div className="space-y-4">
                {threads.map((t) => {
                  const block = blocks.find((b) => b.id === t.place.block);
                  return (
                    <ThreadView
                      key={t.id}
                      document={id}
                      thread={t}
                      about={about(t)}
                      lost={Boolean(t.place.words && block && !stillThere(t, block.content.words))}
                      onGo={() => go(t)}
                    />
                  );
                })}
              </div>
            </aside>
          </div>
        </div>
      )}
    </Refer.Provider>
  );
}
