import { reasonOf } from "../../base/reason";
import { Select } from "../../base/ui/Select";
import { ask, type Question, beginning } from "../../base/api/ask";
import { momentOf, sizeOf } from "../../base/format";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Account, api, expect, type Taken } from "../../base/api/client";
import { loadCore } from "../../base/core/core";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { useInflow } from "../../parts/capture/useInflow";
import { Length } from "../../parts/shots/Length";
import { altOf, captionOf } from "../../parts/shots/use";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { Few } from "../../base/ui/Few";

const offset = () => -new Date().getTimezoneOffset();

type Filter = { day: string; window: string; text: string; placed: "" | "true" | "false"; unused: boolean };

/** All of a person's shots: to find one again, and to make room. */
export function Finder({ account }: { account: Account }) {
  useTitle("My shots");
  const notice = useNotice();
  useInflow(true);
  const navigate = useNavigate();
  const [filter, setFilter] = useState<Filter>({ day: "", window: "", text: "", placed: "", unused: false });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const set = (some: Partial<Filter>) => {
    setFilter({ ...filter, ...some });
    setChosen(new Set());
  };
  const room = useQuery(ask("/api/shots/room"));
  const sessions = useQuery(ask("/api/captures"));
  const found = useInfiniteQuery({
    queryKey: ["/api/shots", filter] satisfies [Question, unknown],
    initialPageParam: beginning<Taken>(),
    queryFn: async ({ pageParam }) => {
      await loadCore();
      return expect(
        api.GET("/api/shots", {
          params: {
            query: {
              ...(filter.day && { day: filter.day, offset: offset() }),
              ...(filter.window && { window: filter.window }),
              ...(filter.text && { text: filter.text }),
              ...(filter.placed && { placed: filter.placed === "true" }),
              ...(filter.unused && { unused: true }),
              ...(pageParam && { after: pageParam.about.taken, afterId: pageParam.id }),
            },
          },
        }),
      );
    },
    getNextPageParam: (page) => (page.length < 120 ? undefined : page[page.length - 1]),
    placeholderData: (old) => old,
  });
  const shots = found.data?.pages.flat() ?? [];
  const discard = async (ids: string[], discarded: boolean) => {
    try {
      await expect(api.PUT("/api/shots/discarded", { body: { shots: ids, discarded } }));
      setChosen(new Set());
      if (discarded) {
        notice({
          text: `${ids.length === 1 ? "The shot is" : `${ids.length} shots are`} deleted and can be restored for 30 days.`,
          action: { label: "Undo", run: () => void discard(ids, false) },
        });
      }
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const sessionOf = (t: Taken) => sessions.data?.find((s) => s.id === t.capture);
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-6xl px-4 py-6">
        <div className="mb-4 flex flex-wrap items-end gap-3">
          <h1 className="mr-auto text-2xl font-bold">
            My shots
            <Link to="/deleted" className="ml-3 rounded px-2 py-1 text-base font-normal text-action hover:bg-paper">
              Deleted
            </Link>
          </h1>
          <label className="block">
            <span className="block text-sm text-soft">Session</span>
            <Select<string>
              label="Session"
              className="w-40"
              value=""
              onChange={(session) => session && void navigate(`/capture/${session}`)}
              options={[
                { value: "", name: "All sessions" },
                ...(sessions.data ?? []).map((s) => ({ value: s.id, name: s.name })),
              ]}
            />
          </label>
          <Filtered label="Text in the picture" value={filter.text} onChange={(text) => set({ text })} />
          <Filtered label="Window" value={filter.window} onChange={(window) => set({ window })} />
          <Filtered label="Day" type="date" value={filter.day} onChange={(day) => set({ day })} />
          <label className="block">
            <span className="block text-sm text-soft">Placed</span>
            <Few
              value={filter.placed}
              options={{ "": "All", true: "In a document", false: "Not placed yet" }}
              onPick={(placed) => set({ placed })}
              className="rounded border border-soft bg-paper px-2 py-1.5"
            />
          </label>
        </div>
        {room.data && (
          <div className="mb-4 flex flex-wrap items-center gap-3 border-l-[3px] border-line bg-paper px-4 py-2">
            <span className="flex-1">
              {room.data.shots} shots take {sizeOf(room.data.bytes)}.{" "}
              {room.data.unusedShots > 0 &&
                `${room.data.unusedShots} of them, ${sizeOf(room.data.unusedBytes)}, are used nowhere.`}
              {room.data.reads === "" && " Text in pictures is not read here."}
            </span>
            {filter.unused ? (
              <>
                <Button onClick={() => set({ unused: false })}>Show all</Button>
                <Button onClick={() => setChosen(new Set(shots.map((s) => s.id)))}>Choose these</Button>
              </>
            ) : (
              <Button why={room.data.unusedShots === 0 && "Every shot is used."} onClick={() => set({ unused: true })}>
                Show those used nowhere
              </Button>
            )}
            {chosen.size > 0 && (
              <Button onClick={() => void discard([...chosen], true)}>
                Delete {chosen.size === 1 ? "1 shot" : `${chosen.size} shots`}
              </Button>
            )}
          </div>
        )}
        <ul aria-label="Shots" className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-4">
          {shots.map((t) => (
            <li key={t.id} className="overflow-hidden rounded border border-line bg-paper">
              <Link to={`/shot/${t.id}`} className="relative block h-36 bg-desk">
                <img
                  src={`/api/shots/${t.id}/preview`}
                  loading="lazy"
                  alt={altOf(t)}
                  className="h-full w-full object-cover object-top"
                />
                <Length of={{ taken: t }} />
              </Link>
              <div className="px-2 py-1.5 text-sm">
                <label className="flex items-baseline gap-2">
                  <input
                    type="checkbox"
                    checked={chosen.has(t.id)}
                    onChange={() => toggle(t.id)}
                    className="translate-y-0.5"
                  />
                  <span className="truncate font-bold">{captionOf(t)}</span>
                </label>
                <p className="truncate text-soft">
                  {momentOf(t.about.taken)}
                  {t.placed ? ", placed" : ""}
                </p>
                <p className="truncate">
                  {sessionOf(t) ? (
                    <Link to={`/capture/${t.capture}`} className="text-action underline">
                      {sessionOf(t)?.name}
                    </Link>
                  ) : (
                    <span className="text-soft">Brought into a document</span>
                  )}
                </p>
              </div>
            </li>
          ))}
        </ul>
        {found.isPending && <Loading what="your shots" />}
        {found.error && <Failed error={found.error} again={() => void found.refetch()} />}
        {found.data && shots.length === 0 && (
          <p className="py-10 text-center text-soft">No shot fits what you ask for.</p>
        )}
        {found.hasNextPage && (
          <p className="py-6 text-center">
            <Button onClick={() => void found.fetchNextPage()}>Show earlier ones</Button>
          </p>
        )}
      </main>
    </>
  );
}

function Filtered(props: { label: string; value: string; type?: string; onChange: (v: string) => void }) {
  return (
    <label className="block">
      <span className="block text-sm text-soft">{props.label}</span>
      <input
        type={props.type ?? "search"}
        value={props.value}
        onChange={(e) => props.onChange(e.target.value)}
        className="w-40 rounded border border-soft bg-paper px-3 py-1.5"
      />
    </label>
  );
}
