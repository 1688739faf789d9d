import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { core, type RegionDrag } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { recorder } from "../../parts/capture/recorder";
import { change, useSettings } from "../../parts/shots/settings";
import type { Rect } from "../../base/api/client";
import type { Point } from "../../base/core/core";
import { around, sure } from "../../base/typed";

const ratios: [string, number][] = [
  ["Any shape", 0],
  ["16 : 9", 16 / 9],
  ["4 : 3", 4 / 3],
  ["1 : 1", 1],
];
const handles = ["nw", "n", "ne", "e", "se", "s", "sw", "w"];
const seen = 21; // pixels across in the magnified view
const glass = 126; // its size on the page

/** A region is drawn on the live picture, adjusted by handles and keys, and then taken. Escape takes nothing. */
export function RegionPicker({ k, view }: { k: number; view: Rect }) {
  const size = { w: view.w, h: view.h };
  const screen = view;
  const { presets, region: kept } = useSettings();
  const [rect, setRect] = useState<Rect>();
  const [at, setAt] = useState<Point>(middle(view));
  const [ratio, setRatio] = useState(0);
  const [drawn, setDrawn] = useState(false); // the glass is in the way then
  const drag = useRef<{ from: Point; handle?: string; rect?: Rect }>(undefined);
  const layer = useRef<HTMLDivElement>(null);

  useEffect(() => layer.current?.focus(), []);
  const dragged = (d: Partial<RegionDrag>) => core.dragRegion({ from: at, to: at, ratio, w: 0, h: 0, ...d }, screen);
  const pointOf = (e: React.PointerEvent): Point => {
    const box = sure(layer.current).getBoundingClientRect();
    return { x: Math.round((e.clientX - box.left) / k + view.x), y: Math.round((e.clientY - box.top) / k + view.y) };
  };
  const take = () => rect && rect.w >= 8 && rect.h >= 8 && void recorder.picked({ region: rect });
  const sized = (w: number, h: number) => setRect(dragged({ to: rect ? middle(rect) : at, w, h }));

  const keys = (e: React.KeyboardEvent) => {
    const steps: Record<string, Point> = {
      ArrowLeft: { x: -1, y: 0 },
      ArrowRight: { x: 1, y: 0 },
      ArrowUp: { x: 0, y: -1 },
      ArrowDown: { x: 0, y: 1 },
    };
    const step = steps[e.key];
    if (e.key === "Escape") recorder.cancel();
    else if (around(e, "input, select, button")) return;
    else if (e.key === "Enter") take();
    else if (step) {
      const by = e.shiftKey ? 10 : 1;
      const d = { x: step.x * by, y: step.y * by };
      const now = rect ?? dragged({ to: at, w: Math.min(640, size.w), h: Math.min(360, size.h) });
      // With Ctrl the lower right corner moves, and with it the size.
      setRect(core.reshapeRegion(now, e.ctrlKey ? "se" : "", d, screen));
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };

  const box = rect && {
    left: (rect.x - view.x) * k,
    top: (rect.y - view.y) * k,
    width: rect.w * k,
    height: rect.h * k,
  };
  return (
    <div
      ref={layer}
      tabIndex={0}
      role="group"
      aria-label="Draw a region. Arrow keys move it, with Shift by 10, with Ctrl they change its size. Enter takes it, Escape takes nothing."
      className="absolute inset-0 cursor-crosshair touch-none outline-none"
      onKeyDown={keys}
      onPointerDown={(e) => {
        if (e.button !== 0 || around(e, "[data-bar]")) return;
        layer.current?.setPointerCapture(e.pointerId);
        setDrawn(false);
        const handle = around(e, "[data-handle]")?.dataset.handle;
        drag.current = { from: pointOf(e), handle, rect };
      }}
      onPointerMove={(e) => {
        const to = pointOf(e);
        setAt(to);
        const d = drag.current;
        if (!d) return;
        if (d.handle !== undefined && d.rect) {
          setRect(core.reshapeRegion(d.rect, d.handle, { x: to.x - d.from.x, y: to.y - d.from.y }, screen));
        } else {
          setRect(dragged({ from: d.from, to }));
        }
      }}
      onPointerUp={() => {
        drag.current = undefined;
        setDrawn(true);
      }}
    >
      <svg aria-hidden className="pointer-events-none absolute inset-0 h-full w-full">
        <path
          fillRule="evenodd"
          fill="#16272d"
          fillOpacity={0.45}
          d={`M0 0H${size.w * k}V${size.h * k}H0Z ${box ? `M${box.left} ${box.top}h${box.width}v${box.height}h${-box.width}Z` : ""}`}
        />
      </svg>
      {box && (
        <div style={box} data-handle="" className="absolute cursor-move border-2 border-call">
          {handles.map((h) => (
            <span
              key={h}
              data-handle={h}
              style={{ cursor: `${h}-resize`, ...place(h) }}
              className="absolute size-3.5 -translate-1/2 rounded-[2px] border border-ink bg-paper"
            />
          ))}
          <span className="absolute -top-7 left-0 rounded bg-ink px-2 py-0.5 font-mono text-sm whitespace-nowrap text-paper">
            {rect.w} × {rect.h}
          </span>
        </div>
      )}
      {!drawn && <Glass at={at} k={k} view={view} />}
      <div
        data-bar
        className="absolute bottom-3 left-1/2 flex w-max max-w-full -translate-x-1/2 flex-wrap items-center gap-2 rounded border border-soft bg-paper px-3 py-2"
      >
        <Side label="Width" value={rect?.w} onSet={(w) => sized(w, rect?.h ?? Math.round((w * 9) / 16))} />
        <span aria-hidden>×</span>
        <Side label="Height" value={rect?.h} onSet={(h) => sized(rect?.w ?? Math.round((h * 16) / 9), h)} />
        <select
          aria-label="Shape"
          value={ratio}
          onChange={(e) => setRatio(Number(e.target.value))}
          className="rounded border border-soft bg-paper px-2 py-1"
        >
          {ratios.map(([name, r]) => (
            <option key={name} value={r}>
              {name}
            </option>
          ))}
        </select>
        <select
          aria-label="Size"
          value=""
          onChange={(e) => {
            const p = presets[Number(e.target.value)];
            if (e.target.value === "add" && rect) {
              change({ presets: [...presets, { name: `${rect.w} × ${rect.h}`, w: rect.w, h: rect.h }] });
            } else if (e.target.value === "again" && kept)
              setRect(
                core.dragRegion({ from: at, to: middle(kept.rect), ratio: 0, w: kept.rect.w, h: kept.rect.h }, screen),
              );
            else if (p) sized(p.w, p.h);
          }}
          className="rounded border border-soft bg-paper px-2 py-1"
        >
          <option value="">Sizes</option>
          {presets.map((p, i) => (
            <option key={p.name} value={i}>
              {p.name}
            </option>
          ))}
          {kept && <option value="again">The last one</option>}
          {rect && <option value="add">Add this size</option>}
        </select>
        <Button onClick={() => recorder.cancel()}>Cancel</Button>
        <Button look="main" why={!rect && "Draw a region first, or type its width and height."} onClick={take}>
          Take region
        </Button>
      </div>
    </div>
  );
}

function Side({ label, value, onSet }: { label: string; value?: number; onSet: (n: number) => void }) {
  const [typed, setTyped] = useState<string>();
  const done = () => {
    const n = Math.round(Number(typed));
    if (typed && n >= 8) onSet(n);
    setTyped(undefined);
  };
  return (
    <input
      aria-label={label}
      inputMode="numeric"
      value={typed ?? value ?? ""}
      placeholder={label}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => e.key === "Enter" && done()}
      className="w-20 rounded border border-soft bg-paper px-2 py-1 font-mono placeholder:font-sans placeholder:text-soft"
    />
  );
}

/** The pixels at the pointer, magnified, with their place. */
function Glass({ at, k, view }: { at: Point; k: number; view: Rect }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const on = canvas.current?.getContext("2d");
    const face = recorder.source?.face();
    if (!on || !face) return;
    on.imageSmoothingEnabled = false;
    on.fillStyle = "#16272d";
    on.fillRect(0, 0, glass, glass);
    const from = { x: at.x - (seen - 1) / 2, y: at.y - (seen - 1) / 2 };
    on.drawImage(face, from.x, from.y, seen, seen, 0, 0, glass, glass);
    const p = glass / seen;
    on.strokeStyle = "#f2b23e";
    on.lineWidth = 2;
    on.strokeRect(((seen - 1) / 2) * p, ((seen - 1) / 2) * p, p, p);
  }, [at]);
  const [x, y] = [(at.x - view.x) * k, (at.y - view.y) * k];
  const left = x + (x > view.w * k - glass - 40 ? -glass - 24 : 24);
  const top = Math.min(Math.max(0, y + 24), Math.max(0, view.h * k - glass - 30));
  return (
    <div aria-hidden style={{ left, top }} className="pointer-events-none absolute rounded border border-ink bg-ink">
      <canvas ref={canvas} width={glass} height={glass} className="block rounded-t" />
      <p className="text-center font-mono text-sm text-paper">
        {at.x}, {at.y}
      </p>
    </div>
  );
}

const middle = (r: Rect): Point => ({ x: r.x + r.w / 2, y: r.y + r.h / 2 });

const place = (h: string) => ({
  left: h.includes("w") ? "0%" : h.includes("e") ? "100%" : "50%",
  top: h.includes("n") ? "0%" : h.includes("s") ? "100%" : "50%",
});
