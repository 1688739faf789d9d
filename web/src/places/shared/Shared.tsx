import { beside } from "../../base/api/beside";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { type Account, api, type Block, expect, Problem } from "../../base/api/client";
import { visit } from "../../base/api/visit";
import { AllSteps } from "../../parts/reading/AllSteps";
import { Newer } from "../../parts/reading/Bars";
import type { Trail } from "../../parts/reading/Leads";
import { OneStep } from "../../parts/reading/OneStep";
import { answers, before, heads, isStep } from "../../parts/reading/parts";
import { Source } from "../../parts/reading/source";
import { useFollowed } from "../../parts/reading/useFollowed";
import { Door } from "../../parts/account/signin";
import { Button, Field } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import { Refer } from "../../parts/words/refer";
import { Said } from "./Said";
import { Say } from "./Say";
import { SharedFile } from "./SharedFile";
import { parsed } from "../../base/typed";

const nobody: Account = {
  id: "guest",
  name: "",
  displayName: "",
  role: "reader",
  may: [],
  mails: "never",
  oneTime: false,
  password: false,
};

const none: Block[] = [];
const noTrail: Trail = [];

/** What someone reads who has a link and no account: the reader's page, and nothing else. */
export default function Shared() {
  const { token = "" } = useParams();
  const path = { token };
  const kept = `raconte-opened ${token}`;
  const [opening, setOpening] = useState(() => visit.get(kept) ?? "");
  const [problem, setProblem] = useState<Error>();
  const opened = useMutation({
    ...beside,
    mutationFn: (password?: string) =>
      expect(api.POST("/api/shared/{token}", { params: { path }, body: { password } })),
    onSuccess: (o) => {
      visit.set(kept, JSON.stringify(o));
      setProblem(undefined);
      setOpening(JSON.stringify(o));
    },
    onError: (e) => setProblem(e),
  });
  const ended = useCallback(
    (e: Error) => {
      visit.remove(kept);
      setOpening("");
      setProblem(e);
    },
    [kept],
  );
  if (opening) return <Reading token={token} opening={parsed<Opened>(opening)} onEnded={ended} />;
  const why = problem instanceof Problem ? problem : undefined;
  if (why?.needs === "password")
    return <Password message={why.message} busy={opened.isPending} onGive={(p) => opened.mutate(p)} />;
  if (problem && why?.status !== 401) return <Door says={problem.message}>{null}</Door>;
  return <First onOpen={() => opened.mutate(undefined)} />;
}

type Opened = { opening: string; title: string; comments: boolean; downloads: boolean; converses?: boolean };

/** A link is opened by a press, so that what only looks ahead at addresses uses none of its openings up. */
const First = ({ onOpen }: { onOpen: () => void }) => (
  <Door says="Someone has shared a document with you.">
    <Button look="main" className="w-full justify-center" onClick={onOpen}>
      Open it
    </Button>
  </Door>
);

function Password(props: { message: string; busy: boolean; onGive: (password: string) => void }) {
  const [password, setPassword] = useState("");
  return (
    <Door says="Someone has shared a document with you.">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          props.onGive(password);
        }}
      >
        <Field label="Password" type="password" value={password} onChange={setPassword} autoFocus />
        <p role="alert" className="mt-3">
          {props.message}
        </p>
        <Button
          look="main"
          type="submit"
          className="mt-4 w-full justify-center"
          disabled={props.busy}
          why={!password && "Type the password."}
        >
          Open it
        </Button>
      </form>
    </Door>
  );
}

const lookEvery = 5000; // milliseconds

function Reading({ token, opening, onEnded }: { token: string; opening: Opened; onEnded: (e: Error) => void }) {
  const [search, setSearch] = useSearchParams();
  const params = { path: { token }, query: { opening: opening.opening } };
  const whole = useQuery({
    queryKey: ["shared", token, opening.opening],
    staleTime: Infinity,
    retry: false,
    queryFn: () => guarded(expect(api.GET("/api/shared/{token}", { params })), onEnded),
  });
  const state = useQuery({
    queryKey: ["shared state", token, opening.opening],
    refetchInterval: lookEvery,
    retry: false,
    queryFn: () => guarded(expect(api.GET("/api/shared/{token}/state", { params })), onEnded),
  });
  useTitle(shown(opening.title));
  const data = whole.data;
  const { refetch } = whole;
  const written = state.data?.seq;
  useEffect(() => {
    if (opening.converses && data && written !== undefined && written !== data.seq) void refetch();
  }, [opening.converses, data, written, refetch]);
  const followed = useFollowed(`link ${token}`, data?.summary.id ?? "");
  const blocks = data?.blocks ?? none;
  const steps = useMemo(() => blocks.filter(isStep), [blocks]);
  const at = Number(search.get("step") ?? 0);
  const one = at >= 1 && at <= steps.length ? steps[at - 1] : undefined;
  const go = (n: number) => setSearch(n > 0 ? { step: String(n) } : {}, { replace: at > 0 && n > 0 });
  const source = useMemo(
    () => ({
      guest: true,
      figure: (_: string, figure: string, width: number) =>
        `/api/shared/${token}/figures/${encodeURIComponent(figure)}?width=${width}&opening=${opening.opening}`,
      clip: (_: string, figure: string) =>
        `/api/shared/${token}/figures/${encodeURIComponent(figure)}/clip?opening=${opening.opening}`,
    }),
    [token, opening],
  );
  const refer = useMemo(() => ({ names: data?.names ?? {} }), [data]);
  if (!data) return <Door says="One moment…">{null}</Door>;
  const newer =
    !opening.converses && state.data && state.data.revision > data.summary.revision ? state.data.revision : 0;
  return (
    <Source.Provider value={source}>
      <Refer.Provider value={refer}>
        <header className="on-dark sticky top-0 z-20 flex h-12 items-center gap-4 bg-ink px-4 text-paper print:hidden">
          <span className="text-lg font-bold tracking-tight">
            racont<span className="text-call">e</span>
          </span>
          <span className="min-w-0 flex-1 truncate font-bold">{shown(data.summary.title)}</span>
          {opening.downloads && (
            <a href={`/api/shared/${token}/pdf?opening=${opening.opening}`} className="rounded px-2 py-1 hover:bg-deep">
              PDF
            </a>
          )}
        </header>
        {newer > 0 && <Newer revision={newer} onShow={() => void whole.refetch()} />}
        {data.summary.kind === "filed" ? (
          <SharedFile token={token} opening={opening.opening} data={data} />
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
            from={noTrail}
          />
        ) : (
          <AllSteps account={nobody} data={data} steps={steps} followed={followed} go={go} trailAt={() => noTrail} />
        )}
        {opening.converses && !blocks.some(answers) && (
          <p role="status" className="mx-auto max-w-4xl bg-paper px-4 pb-4 text-soft sm:px-10">
            Nobody has answered yet. The answer appears here.
          </p>
        )}
        {opening.converses && <Said token={token} opening={opening.opening} />}
        {opening.comments && (
          <Say
            token={token}
            opening={opening.opening}
            steps={opening.converses ? none : steps}
            at={one}
            {...(opening.converses && { asks: "Say more" })}
          />
        )}
      </Refer.Provider>
    </Source.Provider>
  );
}

/** A link that has ended takes its page with it; a server that can't be reached does not. */
async function guarded<T>(work: Promise<T>, onEnded: (e: Error) => void): Promise<T> {
  try {
    return await work;
  } catch (e) {
    if (e instanceof Problem && [401, 403, 404, 422].includes(e.status)) onEnded(e);
    throw e;
  }
}
