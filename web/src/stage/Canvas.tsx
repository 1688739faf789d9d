import { type PointerEvent, type RefObject, useEffect, useLayoutEffect, useRef } from "react";
import type { Rect } from "../api/client";
import { type Pointer, stage, type View } from "../core/core";
import { paint, type Pixels } from "./paint";
import { type Zoom } from "./useZoom";

/** Draws the pieces whose looks changed and leaves the others alone, so that a drag touches one element. */
function useShapes(layer: RefObject<SVGGElement | null>, view: View, pixels: Pixels) {
  const drawn = useRef(new Map<string, SVGElement>());
  useLayoutEffect(() => {
    const root = layer.current;
    if (!root) return;
    for (const shape of view.shapes) {
      let group = drawn.current.get(shape.mark);
      if (!group) {
        group = document.createElementNS("http://www.w3.org/2000/svg", "g");
        drawn.current.set(shape.mark, group);
      }
      paint(group, shape.items, pixels);
    }
    if (!view.listed && root.children.length === view.order.length) return;
    const live = new Set(view.order);
    for (const [mark, element] of drawn.current) {
      if (!live.has(mark)) {
        element.remove();
        drawn.current.delete(mark);
      }
    }
    view.order.forEach((mark, i) => {
      const element = drawn.current.get(mark);
      if (element && root.children[i] !== element) root.insertBefore(element, root.children[i] ?? null);
    });
  }, [layer, view, pixels]);
}

type Props = {
  view: View;
  pixels: Pixels;
  zoom: Zoom;
  label: string;
  onView: (view: View) => void;
};

/** The unfolded picture. Pointer events go to the core, which answers with what to draw. */
export function Canvas({ view, pixels, zoom, label, onView }: Props) {
  const root = useRef<SVGSVGElement>(null);
  const layer = useRef<SVGGElement>(null);
  const latest = useRef<{ pointer?: Pointer; frame?: number; held: boolean; pan?: PointerEvent }>({ held: false });
  useShapes(layer, view, pixels);
  useEffect(() => () => cancelAnimationFrame(latest.current.frame ?? 0), []);

  const shown = zoom.part;
  const scaleOf = (box: DOMRect) => Math.min(box.width / shown.w, box.height / shown.h);
  const pointerOf = (e: { clientX: number; clientY: number; shiftKey: boolean; altKey: boolean }): Pointer => {
    const box = root.current?.getBoundingClientRect() ?? new DOMRect();
    const scale = scaleOf(box);
    const left = box.left + (box.width - shown.w * scale) / 2;
    const top = box.top + (box.height - shown.h * scale) / 2;
    const at = { x: shown.x + (e.clientX - left) / scale, y: shown.y + (e.clientY - top) / scale };
    return { at, scale, shift: e.shiftKey, alt: e.altKey };
  };
  const down = (e: PointerEvent) => {
    if (e.button !== 0 && e.button !== 1) return;
    (e.currentTarget as SVGSVGElement).focus({ preventScroll: true });
    root.current?.setPointerCapture(e.pointerId);
    if (e.button === 1 || zoom.hand) {
      e.preventDefault();
      latest.current.pan = e;
      return;
    }
    latest.current.held = true;
    onView(stage.down(pointerOf(e)));
  };
  const move = (e: PointerEvent) => {
    const from = latest.current.pan;
    if (from) {
      const scale = scaleOf(root.current?.getBoundingClientRect() ?? new DOMRect());
      zoom.pan((from.clientX - e.clientX) / scale, (from.clientY - e.clientY) / scale);
      latest.current.pan = e;
      return;
    }
    latest.current.pointer = pointerOf(e);
    latest.current.frame ??= requestAnimationFrame(() => {
      latest.current.frame = undefined;
      const p = latest.current.pointer;
      if (!p) return;
      if (latest.current.held) onView(stage.move(p));
      else if (root.current) root.current.style.cursor = zoom.hand ? "grab" : stage.cursor(p);
    });
  };
  const up = (e: PointerEvent) => {
    latest.current.pan = undefined;
    if (!latest.current.held) return;
    latest.current.held = false;
    onView(stage.up(pointerOf(e)));
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
  const { crop, sweep, trail } = view;
  const frame = view.frame;
  return (
    <svg
      ref={root}
      viewBox={`${shown.x} ${shown.y} ${shown.w} ${shown.h}`}
      style={{ aspectRatio: `${frame.w} / ${frame.h}` }}
      className="isolate block max-h-[calc(100dvh-12.2rem)] min-h-40 w-full touch-none border border-line bg-desk outline-offset-2 select-none"
      role="application"
      tabIndex={0}
      aria-label={label}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
    >
      <g ref={layer} />
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
          x={g.at.x - 4.5 * pixel}
          y={g.at.y - 4.5 * pixel}
          width={9 * pixel}
          height={9 * pixel}
          rx={["bend", "point", "lens", "zoom"].includes(g.name) ? 4.5 * pixel : 0}
          fill="#ffffff"
          stroke="#0b5f66"
          strokeWidth={2 * pixel}
        />
      ))}
    </svg>
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
