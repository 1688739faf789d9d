import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useRef } from "react";
import { Link } from "react-router";
import { Button } from "../ui/controls";
import { type Item, shots } from "../shots/shots";
import { takeParts } from "./split";
import { altOf, captionOf, useShots, useThumb } from "../shots/use";

const cell = 168;

/** The session's shots in the order taken, along the foot of the page. Only those in view are drawn. */
export function Tray() {
  useShots();
  const items = shots.list();
  const strip = useRef<HTMLDivElement>(null);

  const rows = useVirtualizer({
    count: items.length,
    horizontal: true,
    getScrollElement: () => strip.current,
    estimateSize: () => cell,
    overscan: 4,
  });
  useEffect(() => {
    if (items.length > 0) rows.scrollToIndex(items.length - 1);
  }, [items.length, rows]);
  return (
    <section aria-label="Tray" className="border-t border-line bg-paper">
      <div className="flex h-10 items-center gap-3 px-4">
        <h2 className="font-bold">{shots.session?.name ?? "No session yet"}</h2>
        <span className="text-soft" role="status">
          {items.length === 1 ? "1 shot" : `${items.length} shots`}
        </span>
        {shots.waiting > 0 && (
          <span className="text-look">
            {shots.trouble ? `${shots.trouble}. ` : ""}
            {shots.waiting === 1 ? "1 shot waits" : `${shots.waiting} shots wait`} in this browser for the server.
          </span>
        )}
        <span className="flex-1" />
        <Link to="/capture/shots" className="rounded px-3 py-1.5 text-action hover:bg-desk">
          My shots
        </Link>
        <Button look="quiet" onClick={() => shots.begin()}>
          New session
        </Button>
        {shots.session && items.length > 0 && (
          <Link to={`/capture/${shots.session.id}`} className="rounded px-3 py-1.5 text-action hover:bg-desk">
            Contact sheet
          </Link>
        )}
      </div>
      <div
        ref={strip}
        tabIndex={items.length > 0 ? 0 : -1}
        role="group"
        aria-label="Shots in the order taken"
        className="h-[7.5rem] overflow-x-auto overflow-y-hidden px-4"
      >
        {items.length === 0 && (
          <p className="pt-4 text-soft">Shots land here in the order taken. Take one, or paste a picture.</p>
        )}
        <ol style={{ width: rows.getTotalSize() }} className="relative h-full">
          {rows.getVirtualItems().map((v) => (
            <Cell key={items[v.index]?.id} item={items[v.index] as Item} number={v.index + 1} left={v.start} />
          ))}
        </ol>
      </div>
    </section>
  );
}

const Cell = memo(function Cell({ item, number, left }: { item: Item; number: number; left: number }) {
  const src = useThumb(item);
  const parts = item.parts;
  return (
    <li style={{ transform: `translateX(${left}px)`, width: cell - 10 }} className="absolute top-0" data-shot={item.id}>
      <Link
        to={`/shot/${item.id}`}
        title={item.name}
        className="block h-[5.4rem] overflow-hidden rounded border border-line bg-desk hover:border-soft"
      >
        <img src={src} alt={altOf(item)} className="h-full w-full object-cover object-top" />
      </Link>
      <p className="mt-0.5 flex items-baseline gap-1.5 text-sm">
        <span className="font-bold">{number}</span>
        {item.error ? (
          <>
            <span className="truncate text-mustfix" title={item.error}>
              {item.error}
            </span>
            <button type="button" className="text-action underline" onClick={() => void shots.dismiss(item.id)}>
              Remove
            </button>
          </>
        ) : parts ? (
          <button
            type="button"
            className="truncate text-action underline"
            title={`This picture spans ${parts.length} monitors`}
            onClick={() => void takeParts(item, parts)}
          >
            Split in {parts.length} monitors
          </button>
        ) : (
          <span className="truncate text-soft">{item.taken ? captionOf(item) : "On its way …"}</span>
        )}
      </p>
    </li>
  );
});
