import { type PointerEvent, type RefObject, useEffect, useLayoutEffect, useRef } from "react";
import type { Rect } from "../api/client";
import { type Pointer, type Size, stage, type View } from "../core/core";
import { Shot } from "../manuscript/FigureView";
import type { Picture } from "../manuscript/picture";

const svg = (name: string) => document.createElementNS("http://www.w3.org/2000/svg", name);

/** Draws the marks whose looks changed and leaves the others alone, so that a drag touches one element. */
function useShapes(layer: RefObject<SVGGElement | null>, view: View) {
  const drawn = useRef(new Map<string, SVGElement>());
  useLayoutEffect(() => {
    const root = layer.current;
    if (!root) return;
    for (const shape of view.shapes) {
      const group = drawn.current.get(shape.mark) ?? svg("g");
      drawn.current.set(shape.mark, group as SVGElement);
      shape.paths.forEach((path, i) => {
        const element = group.children[i] ?? group.appendChild(svg("path"));
        element.setAttribute("d", path.d);
        element.setAttribute("fill", path.fill);
      });
      while (group.children.length > shape.paths.length) group.lastChild?.remove();
    }
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
  }, [layer, view]);
}

type Props = { picture: Picture; size: Size; view: View; onView: (view: View) => void; label: string };

/** The unfolded picture. Pointer events go to the core, which answers with what to draw. */
export function Canvas({ picture, size, view, onView, label }: Props) {
  const root = useRef<SVGSVGElement>(null);
  const layer = useRef<SVGGElement>(null);
  const latest = useRef<{ pointer?: Pointer; frame?: number; held: boolean }>({ held: false });
  useShapes(layer, view);
  useEffect(() => () => cancelAnimationFrame(latest.current.frame ?? 0), []);

  const shown = view.crop ? { x: 0, y: 0, ...size } : view.frame;
  const pointerOf = (e: PointerEvent): Pointer => {
    const box = root.current?.getBoundingClientRect() ?? new DOMRect();
    const scale = Math.min(box.width / shown.w, box.height / shown.h);
    const left = box.left + (box.width - shown.w * scale) / 2;
    const top = box.top + (box.height - shown.h * scale) / 2;
    const at = { x: shown.x + (e.clientX - left) / scale, y: shown.y + (e.clientY - top) / scale };
    return { at, scale, shift: e.shiftKey };
  };
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    (e.currentTarget as SVGSVGElement).focus({ preventScroll: true });
    root.current?.setPointerCapture(e.pointerId);
    latest.current.held = true;
    onView(stage.down(pointerOf(e)));
  };
  const move = (e: PointerEvent) => {
    latest.current.pointer = pointerOf(e);
    latest.current.frame ??= requestAnimationFrame(() => {
      latest.current.frame = undefined;
      const p = latest.current.pointer;
      if (!p) return;
      if (latest.current.held) onView(stage.move(p));
      else if (root.current) root.current.style.cursor = stage.cursor(p);
    });
  };
  const up = (e: PointerEvent) => {
    if (!latest.current.held) return;
    latest.current.held = false;
    onView(stage.up(pointerOf(e)));
  };

  const box = root.current?.getBoundingClientRect();
  const pixel = box ? 1 / Math.min(box.width / shown.w, box.height / shown.h) : shown.w / 1040; // one screen pixel
  const crop = view.crop;
  const around = crop ?? view.around;
  return (
    <svg
      ref={root}
      viewBox={`${shown.x} ${shown.y} ${shown.w} ${shown.h}`}
      style={{ aspectRatio: `${shown.w} / ${shown.h}` }}
      className="block max-h-[calc(100dvh-9.5rem)] min-h-40 w-full touch-none border border-line bg-desk outline-offset-2 select-none"
      role="application"
      tabIndex={0}
      aria-label={label}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
    >
      <Shot picture={picture} size={size} small={false} />
      <g ref={layer} />
      {crop && (
        <path
          fill="#16272d"
          fillOpacity={0.55}
          fillRule="evenodd"
          d={`M0 0H${size.w}V${size.h}H0ZM${crop.x} ${crop.y}V${crop.y + crop.h}H${crop.x + crop.w}V${crop.y}Z`}
        />
      )}
      {around && <Outline {...around} pixel={pixel} />}
      {view.grips.map((g) => (
        <rect
          key={g.name}
          data-grip={g.name}
          x={g.at.x - 4.5 * pixel}
          y={g.at.y - 4.5 * pixel}
          width={9 * pixel}
          height={9 * pixel}
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
