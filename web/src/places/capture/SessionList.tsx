import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { core } from "../../base/core/core";
import { settings } from "../../parts/shots/settings";
import { type Item, shots } from "../../parts/shots/shots";
import { Length } from "../../parts/shots/Length";
import { altOf, captionOf, useShots, useThumb } from "../../parts/shots/use";
import { Actions, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { WordsView } from "../../parts/words/WordsView";
import { PlaceDialog } from "./PlaceDialog";
import { takeParts } from "../../parts/capture/split";

/**
 * The session as it grows: each shot with its sentence, so that the procedure is seen to form. Only those in view are
 * drawn.
 */
export function SessionList() {
  useShots();
  const items = shots.list();
  const notice = useNotice();
  const room = useRef<HTMLDivElement>(null);
  const [placing, setPlacing] = useState<Item[]>();
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => room.current,
    estimateSize: () => 66,
    getItemKey: (i) => items[i]?.id ?? i,
    overscan: 6,
  });
  useEffect(() => {
    if (items.length > 0) rows.scrollToIndex(items.length - 1);
  }, [items.length, rows]);
  const place = () => {
    const waiting = items.filter((i) => !i.taken).length;
    if (waiting === 0) setPlacing(items);
    else
      notice({
        text: `${waiting === 1 ? "1 shot is" : `${waiting} shots are`} not on the server yet. Try again in a moment.`,
      });
  };
  return (
    <section aria-label="Session" className="flex min-h-0 flex-1 flex-col">
      <h2 className="truncate px-4 pt-2 font-bold">{shots.session?.name ?? "No session yet"}</h2>
      <div className="flex items-center gap-2 px-4 text-sm">
        <span className="flex-1 text-soft" role="status">
          {items.length === 1 ? "1 shot" : `${items.length} shots`}
        </span>
        <Link to="/capture/shots" className="rounded px-1 py-0.5 text-action hover:underline">
          My shots
        </Link>
        <Actions
          className="rounded px-1.5 py-0.5 text-sm text-action hover:bg-desk"
          choices={[{ label: "Begin a new session", run: () => shots.begin() }]}
        >
          More
        </Actions>
      </div>
      {shots.waiting > 0 && (
        <p className="px-4 text-sm text-look">
          {shots.trouble ? `${shots.trouble}. ` : ""}
          {shots.waiting === 1 ? "1 shot waits" : `${shots.waiting} shots wait`} in this browser for the server.
        </p>
      )}
      <div
        ref={room}
        tabIndex={items.length > 0 ? 0 : -1}
        role="group"
        aria-label="Shots in the order taken"
        className="mt-1 min-h-0 flex-1 overflow-y-auto px-4"
      >
        {items.length === 0 && (
          <p className="pt-3 text-soft">Shots are listed here in the order taken. Take one, or paste a picture.</p>
        )}
        <ol style={{ height: rows.getTotalSize() }} className="relative">
          {rows.getVirtualItems().map((v) => {
            const item = items[v.index];
            return (
              item && (
                <Shot
                  key={item.id}
                  item={item}
                  number={v.index + 1}
                  index={v.index}
                  top={v.start}
                  measure={rows.measureElement}
                />
              )
            );
          })}
        </ol>
      </div>
      {shots.session && items.length > 0 && (
        <div className="flex items-center justify-between gap-2 border-t border-line px-3 py-3">
          <Link
            to={`/capture/${shots.session.id}`}
            className="rounded border border-line bg-paper px-2 py-1.5 whitespace-nowrap hover:border-soft"
          >
            Contact sheet
          </Link>
          <Button look="call" onClick={place}>
            Place as steps
          </Button>
        </div>
      )}
      {placing && (
        <PlaceDialog items={placing} title={shots.session?.name ?? ""} onDone={() => setPlacing(undefined)} />
      )}
    </section>
  );
}

const Shot = memo(function Shot(props: {
  item: Item;
  number: number;
  index: number;
  top: number;
  measure: (element: HTMLElement | null) => void;
}) {
  const { item, number } = props;
  const src = useThumb(item);
  return (
    <li
      ref={props.measure}
      data-index={props.index}
      data-shot={item.id}
      style={{ transform: `translateY(${props.top}px)` }}
      className="absolute inset-x-0 flex items-start gap-2.5 border-b border-line py-1.5"
    >
      <span className="w-6 shrink-0 text-right font-bold tabular-nums">{number}</span>
      <Link
        to={`/shot/${item.id}`}
        title={`Open ${item.name}`}
        className="relative block h-[3.3rem] w-[5.3rem] shrink-0 overflow-hidden border border-line bg-desk hover:border-soft"
      >
        <img src={src} alt={altOf(item)} className="h-full w-full object-cover object-top" />
        <Length of={item} />
      </Link>
      <div className="min-w-0 flex-1 text-sm leading-[1.4]">
        <Said item={item} />
      </div>
    </li>
  );
});

/** What is said of a shot: what was done in it, or what became of it. */
function Said({ item }: { item: Item }) {
  const { parts } = item;
  if (item.error) {
    return (
      <>
        <span className="text-mustfix">{item.error}</span>{" "}
        <button type="button" className="text-action underline" onClick={() => void shots.dismiss(item.id)}>
          Delete
        </button>
      </>
    );
  }
  if (parts) {
    return (
      <button
        type="button"
        className="text-left text-action underline"
        title={`This picture spans ${parts.length} monitors`}
        onClick={() => void takeParts(item, parts)}
      >
        Split in {parts.length} monitors
      </button>
    );
  }
  const fit = item.about.replay?.fit ?? "same";
  if (item.about.action && fit !== "same") {
    return (
      <span>
        <WordsView words={core.actionSaid(item.about, settings().language)} markers={{}} />
        <span className={fit === "gone" ? "text-mustfix" : "text-look"}>{fits[fit]}</span>
      </span>
    );
  }
  if (item.about.action) return <WordsView words={core.actionSaid(item.about, settings().language)} markers={{}} />;
  if (item.taken?.verdict === "same") return <span className="text-soft">The same as the one before</span>;
  return <span>{captionOf(item)}</span>;
}

/** What became of a step when its run was checked. */
const fits = { moved: "Has moved", changed: "Not quite as it was", gone: "Was not found" };
