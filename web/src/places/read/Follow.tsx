import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { type Account, api, type Block, expect, mayReview } from "../../base/api/client";
import { useEvents } from "../../base/api/events";
import { TopBar } from "../../parts/bar/TopBar";
import { DocumentBar } from "../../parts/bar/DocumentBar";
import { Blank } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { Refer } from "../../parts/words/refer";
import { AllSteps } from "../../parts/reading/AllSteps";
import { Newer, Printed } from "../../parts/reading/Bars";
import { Filed } from "./Filed";
import { type Trail, useTrail, WayBack } from "../../parts/reading/Leads";
import { Fails } from "../../parts/reading/Fails";
import { OneStep } from "../../parts/reading/OneStep";
import { before, heads, isStep } from "../../parts/reading/parts";
import { useFollowed } from "../../parts/reading/useFollowed";

const none: Block[] = [];

/** Following a document: all steps on a page, or one at a time; a filed PDF page by page. */
export function Follow({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const path = { params: { path: { document: id } } };
  const whole = useQuery(ask("/api/documents/{document}", { path: { document: id }, query: { composed: true } }));
  const followed = useFollowed(account.id, id);
  const trail = useTrail();
  const refresh = () => void whole.refetch();
  // Whoever follows a revision keeps it on the page until they want the newer one: they may be in the middle of a step.
  const [newer, setNewer] = useState(0);
  const drafts = mayReview(account);
  useEvents({
    document: (e) => e.document === id && !drafts && setNewer(e.seq),
    opened: () => {
      if (!drafts)
        void expect(api.GET("/api/documents/{document}", path)).then((d) => setNewer(d.summary.revision), refresh);
    },
  });
  useTitle(whole.data && shown(whole.data.summary.title));
  const there = whole.data !== undefined;
  useEffect(() => {
    if (there) void api.PUT("/api/documents/{document}/shelf", { ...path, body: { opened: true } });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- noted once for each document that is opened
  }, [id, there]);
  const blocks = whole.data?.blocks ?? none;
  const steps = useMemo(() => blocks.filter(isStep), [blocks]);
  const printed = Number(search.get("printed") ?? 0); // the revision of a printed page that led here
  const named = search.get("at"); // a step by its id: the way back from a linked procedure
  const at = named ? steps.findIndex((s) => s.id === named) + 1 : Number(search.get("step") ?? 0); // 0: all steps
  const go = (n: number) => setSearch(n > 0 ? { step: String(n) } : {}, { replace: at > 0 && n > 0, state: { trail } });
  const one = at >= 1 && at <= steps.length ? steps[at - 1] : undefined;
  const names = whole.data?.names;
  const refer = useMemo(
    () => ({
      names: names ?? {},
      href: (kind: string, to: string) => {
        if (kind === "document") return `/d/${to}`;
        const block = blocks.find((b) => b.id === to || b.content.figures.some((f) => f.id === to));
        return block && !one
          ? `#${block.id}`
          : block && isStep(block)
            ? `?step=${steps.indexOf(block) + 1}`
            : undefined;
      },
    }),
    [names, blocks, steps, one],
  );
  if (whole.error) {
    return (
      <>
        <TopBar account={account} />
        <WayBack trail={trail} />
        <Blank title="This document can’t be shown">
          {whole.error.message}{" "}
          <Link to="/" className="text-action underline">
            Go to the library
          </Link>
        </Blank>
      </>
    );
  }
  const data = whole.data;
  if (!data) {
    return (
      <>
        <TopBar account={account} />
        <main className="mx-auto max-w-4xl px-4">
          <Loading what="the procedure" />
        </main>
      </>
    );
  }
  const trailAt = (step: Block, one: boolean): Trail => [
    ...trail,
    { id, title: data.summary.title, step: step.id, one },
  ];
  return (
    <Refer.Provider value={refer}>
      <DocumentBar account={account} id={id} title={data.summary.title} titled viewed={data.summary.kind !== "filed"} />
      <WayBack trail={trail} />
      {printed > 0 && <Printed document={id} revision={printed} />}
      {!drafts && newer > data.summary.revision && <Newer revision={newer} onShow={refresh} />}
      {data.summary.kind === "filed" ? (
        <Filed account={account} data={data} />
      ) : one ? (
        <OneStep
          key={one.id}
          data={data}
          step={one}
          passages={before(blocks, one)}
          section={blocks.slice(0, blocks.indexOf(one)).findLast(heads)}
          number={at}
          count={steps.length}
          go={go}
          done={followed.done(one.id)}
          onDone={(on) => followed.tick(one.id, on)}
          onBegin={followed.begin}
          from={trailAt(one, true)}
          fails={<Fails account={account} data={data} step={one} />}
        />
      ) : (
        <AllSteps account={account} data={data} steps={steps} followed={followed} go={go} trailAt={trailAt} />
      )}
    </Refer.Provider>
  );
}
