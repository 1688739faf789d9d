import { reasonOf } from "../../base/reason";
import { useKeys } from "../../base/keys/useKeys";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Account, api, expect } from "../../base/api/client";
import { loadCore } from "../../base/core/core";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Actions, AskDialog, Blank, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { useTitle } from "../../base/ui/title";
import { Compare } from "./Compare";
import { Noticed } from "./Noticed";
import { repeats } from "./reasons";
import { Sheet } from "./Sheet";
import { joinAsPage } from "../../parts/capture/join";
import { PlaceDialog } from "./PlaceDialog";
import type { Item } from "../../parts/shots/shots";
import { reportRun, writeUp } from "../../parts/capture/placing";
import { useInflow } from "../../parts/capture/useInflow";
import { useShots } from "../../parts/shots/use";
import { sure } from "../../base/typed";

/** All shots of a session, large, in order: to sort, compare and place them. */
export function ContactSheet({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const shots = useShots();
  const notice = useNotice();
  const navigate = useNavigate();
  useInflow(true);
  useTitle(shots.session?.name ?? "Contact sheet");
  const [ready, setReady] = useState(false);
  const [problem, setProblem] = useState("");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set()); // shots whose repeats are shown
  const [asking, setAsking] = useState<"place" | "name" | "compare">();
  const [placing, setPlacing] = useState<Item[]>([]);
  const last = useRef<string>(undefined);
  useEffect(() => {
    void (async () => {
      await loadCore();
      if (shots.session?.id !== id) {
        try {
          const got = await expect(api.GET("/api/captures/{capture}", { params: { path: { capture: id } } }));
          await shots.join(got.capture);
        } catch (e) {
          setProblem(reasonOf(e));
        }
      }
      setReady(true);
    })();
  }, [id, shots]);

  const all = shots.list();
  // A run of repeats lies under its first shot.
  const shown = useMemo(() => {
    const out: { item: Item; number: number; under: Item[] }[] = [];
    let first: { item: Item; number: number; under: Item[] } | undefined;
    all.forEach((item, i) => {
      if (repeats(item) && first && !opened.has(first.item.id)) first.under.push(item);
      else {
        const cell = { item, number: i + 1, under: [] };
        out.push(cell);
        if (!repeats(item)) first = cell;
      }
    });
    return out;
  }, [all, opened]);
  const picked = all.filter((i) => chosen.has(i.id));

  // What a recorder sent is one run, from its beginning to its end.
  const isRun = all.length > 0 && all.every((i) => i.about.source === "feed" && !i.about.replay);
  const write = async () => navigate(await writeUp(all, shots.session?.name ?? ""));
  const report = async (items: Item[]) => navigate(await reportRun(items));
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const remove = (items: Item[], text: string) =>
    attempt(async () => {
      const ids = items.map((i) => i.id);
      await shots.discard(ids, true);
      setChosen(new Set());
      notice({ text, action: { label: "Undo", run: () => void attempt(() => shots.discard(ids, false)) } });
    });
  const removePicked = () =>
    void remove(picked, picked.length === 1 ? "The shot is deleted." : `${picked.length} shots are deleted.`);
  useKeys("Shots", [
    {
      keys: "Delete",
      does: "Delete what is chosen",
      run: () => (picked.length > 0 && !asking ? removePicked() : false),
    },
    { keys: ["Alt+Left", "Alt+Right"], does: "Move a shot in the order" },
  ]);
  const move = (ids: ReadonlySet<string>, to: number) =>
    attempt(async () => {
      const rest = all.filter((i) => !ids.has(i.id));
      const before = all.slice(0, to).filter((i) => !ids.has(i.id)).length;
      const order = [...rest.slice(0, before), ...all.filter((i) => ids.has(i.id)), ...rest.slice(before)];
      await shots.reorder(order.map((i) => i.id));
    });
  const even = () =>
    attempt(async () => {
      await expect(api.POST("/api/captures/{capture}/even", { params: { path: { capture: id } } }));
      await shots.refresh();
      notice({ text: "All of them have one size now, as a crop. Each shot is still whole." });
    });
  const compareAgain = () =>
    attempt(async () => {
      await expect(api.POST("/api/captures/{capture}/compared", { params: { path: { capture: id } } }));
      await shots.refresh();
    });
  const ask = (items: Item[]) => {
    const waiting = items.filter((i) => !i.taken).length;
    if (waiting > 0) {
      notice({
        text: `${waiting === 1 ? "1 shot is" : `${waiting} shots are`} not on the server yet. Try again in a moment.`,
      });
      return;
    }
    setPlacing(items);
    setAsking("place");
  };

  const choose = (item: Item, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const ids = shown.map((s) => s.item.id);
    if (e.shiftKey && last.current) {
      const ends = [ids.indexOf(last.current), ids.indexOf(item.id)];
      const [a, b] = [Math.min(...ends), Math.max(...ends)];
      setChosen(new Set([...chosen, ...ids.slice(Math.max(0, a), b + 1)]));
    } else {
      const next = new Set(chosen);
      if (!next.delete(item.id)) next.add(item.id);
      setChosen(next);
    }
    last.current = item.id;
  };

  if (problem) {
    return (
      <>
        <TopBar account={account}>
          <Places account={account} />
        </TopBar>
        <Blank title="This session can’t be opened">{problem}</Blank>
      </>
    );
  }
  return (
    <div className="flex h-dvh flex-col">
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="flex min-h-0 flex-1 flex-col">
        <div className="flex flex-wrap items-center gap-2 border-b border-line bg-paper px-5 py-3">
          <h1 className="text-xl font-bold">{shots.session?.name}</h1>
          <Button look="quiet" onClick={() => setAsking("name")}>
            Rename
          </Button>
          <span className="flex-1 text-soft" role="status">
            {all.length === 1 ? "1 shot" : `${all.length} shots`}
            {picked.length > 0 && `, ${picked.length} chosen`}
          </span>
          {picked.length > 0 ? (
            <>
              <Button onClick={() => setChosen(new Set())}>Choose none</Button>
              {picked.length === 2 && <Button onClick={() => setAsking("compare")}>Compare the two</Button>}
              {picked.length > 1 && (
                <Button onClick={() => void attempt(() => joinAsPage(picked))}>Join as one page</Button>
              )}
              <Button onClick={removePicked}>Delete</Button>
              <Button onClick={() => void attempt(() => report(picked))}>Report a fault</Button>
              <Button look="main" onClick={() => ask(picked)}>
                Place {picked.length} as steps
              </Button>
            </>
          ) : (
            <>
              <Button onClick={() => setChosen(new Set(all.map((i) => i.id)))}>Choose all</Button>
              <Actions
                label="More"
                className="rounded border border-line bg-paper px-3 py-1.5 hover:border-soft"
                choices={[
                  { label: "Compare all again", run: () => void compareAgain() },
                  ...(all.length > 0 && all.every((i) => i.taken)
                    ? [{ label: "Report a fault with this run", run: () => void attempt(() => report(all)) }]
                    : []),
                ]}
              >
                More
              </Actions>
              <Link to="/capture" className="rounded border border-line bg-paper px-3 py-1.5 hover:border-soft">
                Take more
              </Link>
              <Button
                look={isRun ? "plain" : "main"}
                why={all.length === 0 && "There is no shot yet."}
                onClick={() => ask(all)}
              >
                Place all as steps
              </Button>
              {isRun && (
                <Button
                  look="main"
                  why={all.some((i) => !i.taken) && "Some shots are not on the server yet."}
                  onClick={() => void attempt(write)}
                >
                  Make a procedure
                </Button>
              )}
            </>
          )}
        </div>
        <Noticed all={all} onDelete={(items, text) => void remove(items, text)} onEven={() => void even()} />
        {ready && all.length === 0 && (
          <Blank title="No shots here">
            <Link to="/capture" className="text-action underline">
              Take the first
            </Link>
          </Blank>
        )}
        {ready && (
          <Sheet
            cells={shown}
            chosen={chosen}
            onChoose={choose}
            onMove={(item, to) => void move(chosen.has(item.id) ? chosen : new Set([item.id]), to)}
            onOpen={(item) => {
              const next = new Set(opened);
              if (!next.delete(item.id)) next.add(item.id);
              setOpened(next);
            }}
          />
        )}
      </main>
      {asking === "place" && (
        <PlaceDialog items={placing} title={shots.session?.name ?? ""} onDone={() => setAsking(undefined)} />
      )}
      {asking === "compare" && picked.length === 2 && (
        <Compare a={sure(picked[0])} b={sure(picked[1])} onDone={() => setAsking(undefined)} />
      )}
      {asking === "name" && (
        <AskDialog
          title="Rename the session"
          label="Name"
          initial={shots.session?.name ?? ""}
          confirm="Rename"
          check={(t) => (t && t.length <= 200 ? "" : "Use 1 to 200 characters.")}
          onDone={(name) => {
            setAsking(undefined);
            if (name) void attempt(() => shots.rename(name));
          }}
        />
      )}
    </div>
  );
}
