import { type ReactNode, useLayoutEffect, useRef, useState } from "react";

type Remarked = { key: string; at: number; node: ReactNode };

const apart = 12; // pixels

/** The margin: remarks, each at its height, or below the one before where that needs the room. */
export function Anchored({ label, remarks }: { label: string; remarks: Remarked[] }) {
  const room = useRef<HTMLElement>(null);
  const [tops, setTops] = useState<Record<string, number>>({});
  useLayoutEffect(() => {
    const lay = () => {
      const above = room.current?.offsetTop ?? 0;
      const next: Record<string, number> = {};
      let free = 16;
      for (const element of room.current?.querySelectorAll<HTMLElement>(":scope > *") ?? []) {
        const { key, at } = element.dataset;
        const top = Math.max(free, Number(at) - above + 16);
        next[key ?? ""] = top;
        free = top + element.offsetHeight + apart;
      }
      setTops((now) => (JSON.stringify(now) === JSON.stringify(next) ? now : next));
    };
    lay();
    // One may grow by itself, as when it is answered: those below it make room.
    const sizes = new ResizeObserver(lay);
    for (const element of room.current?.children ?? []) sizes.observe(element);
    return () => sizes.disconnect();
  }, [remarks]);
  return (
    <aside ref={room} aria-label={label} className="relative">
      {remarks.map((r) => (
        <div
          key={r.key}
          data-key={r.key}
          data-at={r.at}
          className="absolute right-3 left-4"
          style={{ top: tops[r.key] ?? r.at }}
        >
          {r.node}
        </div>
      ))}
    </aside>
  );
}
