import { useKeys } from "../../base/keys/useKeys";
import {
  DndContext,
  type DragEndEvent,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Account, api, expect } from "../../base/api/client";
import { loadCore } from "../../base/core/core";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Actions, AskDialog, Blank, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { rem } from "../../base/ui/rem";
import { useTitle } from "../../base/ui/title";
import { Compare } from "./Compare";
import { joinAsPage } from "../../parts/capture/join";
import { PlaceDialog } from "./PlaceDialog";
import type { Item } from "../../parts/shots/shots";
import { reportRun, writeUp } from "../../parts/capture/placing";
import { useInflow } from "../../parts/capture/useInflow";
import { Length } from "../../parts/shots/Length";
import { altOf, captionOf, useShots, useThumb } from "../../parts/shots/use";

const least = rem(17.3); // the width of a cell
const height = rem(15.7);

const reasons: Record<string, string> = {
  same: "The same as the one before",
  "same-but-pointer": "The same but for the pointer or caret",
  "same-but-clock": "The same but for the clock",
};
const repeats = (i: Item) => i.taken !== undefined && i.taken.verdict in reasons;

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
          setProblem((e as Error).message);
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
  const repeated = all.filter(repeats);
  const uneven = all.filter((i) => i.taken?.uneven).length;
  const picked = all.filter((i) => chosen.has(i.id));

  // What a recorder sent is one run, from its beginning to its end.
  const isRun = all.length > 0 && all.every((i) => i.about.source === "feed" && !i.about.replay);
  const write = async () => navigate(await writeUp(all, shots.session?.name ?? ""));
  const report = async (items: Item[]) => navigate(await reportRun(items));
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (e) {
      notice({ text: (e as Error).message });
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
      const [a, b] = [ids.indexOf(last.current), ids.indexOf(item.id)].sort((x, y) => x - y) as [number, number];
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
        {(repeated.length > 0 || uneven > 0) && (
          <ul aria-label="What was noticed" className="space-y-1 border-b border-line bg-paper px-5 py-2">
            {repeated.length > 0 && (
              <li className="flex items-center gap-3 border-l-[3px] border-call pl-3">
                {repeated.length === 1 ? "1 shot repeats" : `${repeated.length} shots repeat`} the one before. Nothing
                is deleted by itself.
                <Button
                  onClick={() =>
                    void remove(
                      repeated,
                      repeated.length === 1 ? "The repeat is deleted." : `${repeated.length} repeats are deleted.`,
                    )
                  }
                >
                  Delete {repeated.length === 1 ? "it" : "them"}
                </Button>
              </li>
            )}
            {uneven > 0 && (
              <li className="flex items-center gap-3 border-l-[3px] border-call pl-3">
                {uneven === 1 ? "1 shot is" : `${uneven} shots are`} a little larger or smaller than the one before, so
                that steps would jump.
                <Button onClick={() => void even()}>Make them even</Button>
              </li>
            )}
          </ul>
        )}
        {ready && all.length === 0 && (
          <Blank title="No shots here">
            <Link to="/capture" className="text-action underline">
              Take the first
            </Link>
          </Blank>
        )}
        {ready && (
          <Grid
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
        <Compare a={picked[0] as Item} b={picked[1] as Item} onDone={() => setAsking(undefined)} />
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

type CellProps = { item: Item; number: number; under: Item[] };

function Grid(props: {
  cells: CellProps[];
  chosen: ReadonlySet<string>;
  onChoose: (item: Item, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  onMove: (item: Item, to: number) => void;
  onOpen: (item: Item) => void;
}) {
  const { cells } = props;
  const room = useRef<HTMLDivElement>(null);
  const [columns, setColumns] = useState(4);
  useLayoutEffect(() => {
    const box = room.current;
    if (!box) return;
    const measure = () => setColumns(Math.max(1, Math.floor((box.clientWidth - 24) / least)));
    measure();
    const seen = new ResizeObserver(measure);
    seen.observe(box);
    return () => seen.disconnect();
  }, []);

  const rows = useVirtualizer({
    count: Math.ceil(cells.length / columns),
    getScrollElement: () => room.current,
    estimateSize: () => height,
    overscan: 2,
  });
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  );
  // A drop on the right half of a cell goes behind it.
  const end = ({ active, over }: DragEndEvent) => {
    const to = cells.find((c) => c.item.id === over?.id);
    const item = cells.find((c) => c.item.id === active.id)?.item;
    const at = active.rect.current.translated;
    if (!to || !item || !over || !at || over.id === active.id) return;
    const behind = at.left + at.width / 2 > over.rect.left + over.rect.width / 2;
    props.onMove(item, to.number - 1 + (behind ? 1 : 0));
  };
  return (
    <div ref={room} className="min-h-0 flex-1 overflow-y-auto p-3">
      <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={end}>
        <ol aria-label="Shots" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().flatMap((v) =>
            cells.slice(v.index * columns, (v.index + 1) * columns).map((c, i) => (
              <li
                key={c.item.id}
                data-shot={c.item.id}
                className="absolute p-2"
                style={{
                  width: `${100 / columns}%`,
                  height,
                  left: `${(100 / columns) * i}%`,
                  transform: `translateY(${v.start}px)`,
                }}
              >
                <Cell {...c} {...props} />
              </li>
            )),
          )}
        </ol>
      </DndContext>
    </div>
  );
}

function Cell({
  item,
  number,
  under,
  chosen,
  onChoose,
  onMove,
  onOpen,
}: CellProps & Pick<Parameters<typeof Grid>[0], "chosen" | "onChoose" | "onMove" | "onOpen">) {
  const src = useThumb(item);
  const on = chosen.has(item.id);
  const words = captionOf(item);
  const drag = useDraggable({ id: item.id });
  const drop = useDroppable({ id: item.id });
  const { onMouseDown, onTouchStart } = (drag.listeners ?? {}) as Record<"onMouseDown" | "onTouchStart", () => void>;
  const verdict = item.taken?.verdict ?? "";
  return (
    <div
      ref={drop.setNodeRef}
      className={`flex h-full flex-col overflow-hidden rounded border bg-paper ${drop.isOver && !drag.isDragging ? "ring-2 ring-call" : ""} ${drag.isDragging ? "opacity-50" : ""} ${on ? "border-action ring-2 ring-action" : "border-line"}`}
    >
      <button
        type="button"
        aria-pressed={on}
        aria-label={`Shot ${number}, ${words}`}
        ref={drag.setNodeRef}
        onMouseDown={onMouseDown}
        onTouchStart={onTouchStart}
        onClick={(e) => onChoose(item, e)}
        onKeyDown={(e) => {
          const step = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
          if (!e.altKey || !step) return;
          e.preventDefault();
          onMove(item, step < 0 ? number - 2 : number + 1);
        }}
        className="relative min-h-0 flex-1 bg-desk"
      >
        <img src={src} alt={altOf(item)} draggable={false} className="h-full w-full object-contain" />
        <Length of={item} />
      </button>
      <div className="flex items-baseline gap-2 px-2 py-1">
        <span className="font-bold">{number}</span>
        <span className="min-w-0 flex-1 truncate" title={item.name}>
          {words}
        </span>
        {item.taken?.placed && <span className="text-sm text-soft">placed</span>}
        <Link to={`/shot/${item.id}`} className="text-sm text-action underline" aria-label={`Open shot ${number}`}>
          Open
        </Link>
      </div>
      {(verdict in reasons || item.taken?.uneven || item.taken?.print || under.length > 0) && (
        <p className="flex items-baseline gap-2 px-2 pb-1 text-sm text-look">
          <span className="truncate">
            {verdict in reasons
              ? reasons[verdict]
              : item.taken?.uneven
                ? `${item.width} × ${item.height}, a little off`
                : item.taken?.print
                  ? `${item.width} × ${item.height}: its text prints at ${item.taken.print.points} points`
                  : ""}
          </span>
          {under.length > 0 && (
            <button type="button" className="text-action underline" onClick={() => onOpen(item)} aria-expanded={false}>
              {under.length === 1 ? "Show 1 repeat" : `Show ${under.length} repeats`}
            </button>
          )}
        </p>
      )}
    </div>
  );
}
