import { type PointerEvent, useEffect, useLayoutEffect, useRef } from "react";
import type { Rect } from "../../base/api/client";
import type { Pointer, View } from "../../base/core/core";
import { useStageCore } from "./core";
import { useFingers } from "./fingers";
import type { Painting } from "./painting";
import type { Seen } from "./useStage";
import type { Zoom } from "./useZoom";
import { sure } from "../../base/typed";

type Props = {
  view: Seen;
  painting: Painting;
  zoom: Zoom;
  label: string;
  onView: (view: View) => void;
  /** It leaves room for what stands below it. */
  low?: boolean;
};

/** Grips under a finger are larger; both in pixels of the screen. */
const gripSize = matchMedia("(pointer: coarse)").matches ? 24 : 9;

/** The open picture. Pointer events go to the core, which answers with what to draw. */
export function Canvas({ view, painting, zoom, label, onView, low }: Props) {
  const stage = useStageCore();
  const root = useRef<SVGSVGElement>(null);
  const layer = useRef<SVGGElement>(null);
  const latest = useRef<{ way: Pointer[]; hover?: Pointer; frame?: number; held?: number; pan?: PointerEvent }>({
    way: [],
  });
  useLayoutEffect(() => layer.current?.replaceChildren(painting.layer), [painting]);
  useEffect(() => () => cancelAnimationFrame(latest.current.frame ?? 0), []);

  const shown = zoom.part;
  const scaleOf = (box: DOMRect) => Math.min(box.width / shown.w, box.height / shown.h);
  const pointerOf = (e: Place): Pointer => {
    const box = root.current?.getBoundingClientRect() ?? new DOMRect();
    const scale = scaleOf(box);
    const left = box.left + (box.width - shown.w * scale) / 2;
    const top = box.top + (box.height - shown.h * scale) / 2;
    const at = { x: shown.x + (e.clientX - left) / scale, y: shown.y + (e.clientY - top) / scale };
    return { at, scale, shift: e.shiftKey, alt: e.altKey, touch: e.pointerType === "touch" };
  };
  const giveUp = () => {
    if (latest.current.held === undefined) return;
    latest.current.held = undefined;
    latest.current.way = [];
    onView(stage.cancel());
  };
  const fingers = useFingers({
    onBegin: giveUp,
    onPinch: (factor, at, dx, dy) => {
      const p = pointerOf({ clientX: at.x, clientY: at.y, shiftKey: false, altKey: false });
      zoom.by(factor, p.at);
      zoom.pan(-dx / p.scale, -dy / p.scale);
    },
  });
  const down = (e: PointerEvent) => {
    if (fingers.down(e) || (e.button !== 0 && e.button !== 1)) return;
    if (latest.current.held !== undefined) return; // one pointer at a time
    sure(root.current).focus({ preventScroll: true });
    root.current?.setPointerCapture(e.pointerId);
    if (e.button === 1 || zoom.hand) {
      e.preventDefault();
      latest.current.pan = e;
      return;
    }
    latest.current.held = e.pointerId;
    onView(stage.down(pointerOf(e)));
  };
  const move = (e: PointerEvent) => {
    if (fingers.move(e)) return;
    const from = latest.current.pan;
    if (from) {
      const scale = scaleOf(root.current?.getBoundingClientRect() ?? new DOMRect());
      zoom.pan((from.clientX - e.clientX) / scale, (from.clientY - e.clientY) / scale);
      latest.current.pan = e;
      return;
    }
    if (latest.current.held === undefined) latest.current.hover = pointerOf(e);
    else if (latest.current.held === e.pointerId) {
      const all = e.nativeEvent.getCoalescedEvents?.() ?? [];
      latest.current.way.push(...(all.length > 0 ? all : [e]).map(pointerOf));
    }
    latest.current.frame ??= requestAnimationFrame(() => {
      latest.current.frame = undefined;
      const { way, hover } = latest.current;
      latest.current.way = [];
      if (way.length > 0) onView(stage.moves(way));
      else if (hover && latest.current.held === undefined && root.current)
        root.current.style.cursor = zoom.hand ? "grab" : stage.cursor(hover);
    });
  };
  const up = (e: PointerEvent) => {
    fingers.up(e);
    latest.current.pan = undefined;
    if (latest.current.held !== e.pointerId) return;
    latest.current.held = undefined;
    latest.current.way = [];
    onView(stage.up(pointerOf(e)));
  };
  const cancel = (e: PointerEvent) => {
    fingers.up(e);
    latest.current.pan = undefined;
    if (latest.current.held === e.pointerId) giveUp();
  };

  // The wheel zooms with Ctrl, as pinching does, and moves a picture that is zoomed; else the page scrolls.
  const wheel = useRef<(e: WheelEvent) => void>(undefined);
  useLayoutEffect(() => {
    wheel.current = (e) => {
      const p = pointerOf(e);
      if (e.ctrlKey || e.metaKey) zoom.by(Math.exp(-e.deltaY / 300), p.at);
      else if (zoom.k > 1)
        zoom.pan((e.shiftKey ? e.deltaY : e.deltaX) / p.scale, (e.shiftKey ? 0 : e.deltaY) / p.scale);
      else return;
      e.preventDefault();
    };
  });
  useEffect(() => {
    const svg = root.current;
    const listen = (e: WheelEvent) => wheel.current?.(e);
    svg?.addEventListener("wheel", listen, { passive: false });
    return () => svg?.removeEventListener("wheel", listen);
  }, []);

  const box = root.current?.getBoundingClientRect();
  const pixel = box && box.width > 0 ? 1 / scaleOf(box) : shown.w / 1040; // one screen pixel
  return (
    <svg
      ref={root}
      viewBox={`${shown.x} ${shown.y} ${shown.w} ${shown.h}`}
      style={{ aspectRatio: `${view.frame.w} / ${view.frame.h}` }}
      className={`isolate block min-h-40 ${low ? "max-h-[calc(100dvh-var(--bar)-20.5rem)]" : "max-h-[calc(100dvh-var(--bar)-9.2rem)]"} w-full touch-none border border-line bg-desk outline-offset-2 select-none`}
      role="application"
      tabIndex={0}
      aria-label={label}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={cancel}
    >
      <g ref={layer} />
      <Furniture view={view} pixel={pixel} />
    </svg>
  );
}

type Place = { clientX: number; clientY: number; shiftKey: boolean; altKey: boolean; pointerType?: string };

/** What helps to draw and is not part of the picture. */
function Furniture({ view, pixel }: { view: Seen; pixel: number }) {
  const { crop, sweep, trail, frame } = view;
  return (
    <>
      {crop && (
        <path
          fill="#16272d"
          fillOpacity={0.55}
          fillRule="evenodd"
          d={`M${frame.x} ${frame.y}h${frame.w}v${frame.h}h${-frame.w}ZM${crop.x} ${crop.y}v${crop.h}h${crop.w}v${-crop.h}Z`}
        />
      )}
      {sweep && <rect x={sweep.x} y={sweep.y} width={sweep.w} height={sweep.h} fill="#0b5f66" fillOpacity={0.14} />}
      {trail && (
        <polyline
          points={trail.map((p) => `${p.x},${p.y}`).join(" ")}
          fill="none"
          stroke="#0b5f66"
          strokeWidth={1.5 * pixel}
        />
      )}
      {view.guides?.map((g) => (
        <line
          key={`${g.upright} ${g.at}`}
          data-guide
          x1={g.upright ? g.at : frame.x}
          x2={g.upright ? g.at : frame.x + frame.w}
          y1={g.upright ? frame.y : g.at}
          y2={g.upright ? frame.y + frame.h : g.at}
          stroke="#7b3fa0"
          strokeWidth={1 * pixel}
        />
      ))}
      {(crop ? [crop] : view.around).map((r, i) => (
        <Outline key={i} {...r} pixel={pixel} />
      ))}
      {view.grips.map((g) => (
        <rect
          key={g.name}
          data-grip={g.name}
          x={g.at.x - (gripSize / 2) * pixel}
          y={g.at.y - (gripSize / 2) * pixel}
          width={gripSize * pixel}
          height={gripSize * pixel}
          rx={["bend", "point", "lens", "zoom"].includes(g.name) ? (gripSize / 2) * pixel : 0}
          fill="#ffffff"
          stroke="#0b5f66"
          strokeWidth={2 * pixel}
        />
      ))}
    </>
  );
}

function Outline({ x, y, w, h, pixel }: Rect & { pixel: number }) {
  return (
    <rect
      data-selection
      x={x}
      y={y}
      width={w}
      height={h}
      fill="none"
      stroke="#0b5f66"
      strokeWidth={1.5 * pixel}
      strokeDasharray={`${5 * pixel} ${3 * pixel}`}
    />
  );
}
