import { useKeys } from "../../base/keys/useKeys";
import { useCallback, useLayoutEffect, useRef, useState } from "react";
import { core } from "../../base/core/core";
import { OutlinePicker } from "./OutlinePicker";
import { RegionPicker } from "./RegionPicker";
import { useSettings } from "../../parts/shots/settings";
import { Practice } from "../../parts/capture/sources/practice";
import type { Rect } from "../../base/api/client";
import type { Screen } from "../../base/core/capture";
import type { Point } from "../../base/core/core";
import { fields } from "../../base/keys/fields";
import { useRecorder } from "../../parts/capture/use";
import { around, sure } from "../../base/typed";

/** The live picture, fitted into the page, with what the choice of "what" means under the pointer. */
export function Live() {
  const rec = useRecorder();
  const source = rec.source;
  const s = useSettings();
  const room = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [fit, setFit] = useState({ k: 1, view: { x: 0, y: 0, w: 0, h: 0 } });
  const [target, setTarget] = useState<Rect>();
  const [aiming, setAiming] = useState(false);
  const screen = useRef<Screen>(undefined);

  // The picture is as large as the room allows, and never blown up.
  useLayoutEffect(() => {
    const box = room.current;
    if (!box || !source) return;
    const measure = async () => {
      const view = await rec.view();
      setFit({ k: Math.min(1, box.clientWidth / view.w, box.clientHeight / view.h), view });
    };
    void measure();
    const seen = new ResizeObserver(() => void measure());
    seen.observe(box);
    return () => seen.disconnect();
  }, [source, rec, rec.said, rec.monitor]);
  useLayoutEffect(() => {
    const face = source?.face();
    if (!face || !frame.current) return;
    const { k, view } = fit;
    const { w, h } = sure(source).size();
    Object.assign(face.style, {
      position: "absolute",
      maxWidth: "none",
      left: `${-view.x * k}px`,
      top: `${-view.y * k}px`,
      width: `${w * k}px`,
      height: `${h * k}px`,
    });
    frame.current.prepend(face);
    return () => face.remove();
  }, [source, fit]);
  useKeys("Capture", [
    {
      keys: "Alt",
      does: "Show what would be taken",
      writing: "fields",
      run: () => {
        setAiming(true);
        return false;
      },
      release: () => setAiming(false),
    },
  ]);

  const aim = useCallback(async () => {
    if (!source) return;
    screen.current = await source.screen();
    try {
      const cut = core.cut(screen.current, {
        what: s.what,
        at: rec.at,
        share: s.share,
        shadow: s.shadow,
        pointer: "out",
      });
      const crop = cut.about.crop;
      setTarget(crop ? { ...crop, x: crop.x + cut.rect.x, y: crop.y + cut.rect.y } : cut.rect);
    } catch {
      setTarget(undefined);
    }
  }, [source, rec, s.what, s.share, s.shadow]);

  if (!source) return null;
  const practice = source instanceof Practice ? source : undefined;
  const at = (e: { clientX: number; clientY: number }): Point => {
    const box = sure(frame.current).getBoundingClientRect();
    const { k, view } = fit;
    return { x: Math.round((e.clientX - box.left) / k + view.x), y: Math.round((e.clientY - box.top) / k + view.y) };
  };
  const picksByPointing = ["window", "element", "band", "monitor"].includes(s.what);
  const lit = picksByPointing && target && (aiming || !practice) && !rec.picking;

  const keys = (e: React.KeyboardEvent) => {
    if (!practice || around(e, `${fields}, button`)) return; // fields get their keys
    const steps: Record<string, Point> = {
      ArrowLeft: { x: -1, y: 0 },
      ArrowRight: { x: 1, y: 0 },
      ArrowUp: { x: 0, y: -1 },
      ArrowDown: { x: 0, y: 1 },
    };
    const step = steps[e.key];
    if (e.altKey && step) {
      const by = e.shiftKey ? 40 : 10;
      rec.at = { x: rec.at.x + step.x * by, y: rec.at.y + step.y * by };
      void practice.move(rec.at).then(aim);
    } else if (e.altKey && e.key === "Enter") {
      void practice.press(rec.at, "click").then(() => practice.release());
    } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "a") {
      void practice.key("Control+a", rec.at);
    } else if (e.altKey || e.ctrlKey || e.metaKey || (e.key === "Tab" && e.shiftKey) || e.key === "Shift") {
      return;
    } else {
      void practice.key(e.key, rec.at);
    }
    e.preventDefault();
    e.stopPropagation();
  };

  return (
    <div ref={room} className="relative flex min-h-0 flex-1 items-center justify-center p-0">
      <div
        ref={frame}
        style={{ width: fit.view.w * fit.k, height: fit.view.h * fit.k }}
        className={`relative shrink-0 overflow-hidden ${practice ? "cursor-none" : "cursor-crosshair"}`}
        role="application"
        aria-label={
          practice
            ? "Practice workstation. Keys go to it; Alt and the arrow keys move its pointer, Alt and Enter click, Shift and Tab leave it."
            : "What is shared. Point at what to take."
        }
        tabIndex={0}
        onKeyDown={keys}
        onPointerMove={(e) => {
          if (rec.picking) return;
          rec.at = at(e);
          void practice?.move(rec.at);
          if (picksByPointing) void aim();
        }}
        onPointerDown={(e) => {
          if (rec.picking) return;
          rec.at = at(e);
          if (practice) {
            e.currentTarget.focus();
            e.currentTarget.setPointerCapture(e.pointerId);
            void practice
              .press(rec.at, e.button === 2 ? "right-click" : e.detail === 2 ? "double-click" : "click")
              .then(aim);
          } else if (e.button === 0 && picksByPointing) {
            void rec.take();
          }
        }}
        onPointerUp={() => void practice?.release()}
        onPointerEnter={() => void aim()}
        onContextMenu={(e) => practice && e.preventDefault()}
        onWheel={(e) => void practice?.wheel(at(e), e.deltaY)}
      >
        {lit && <Lit rect={target} k={fit.k} view={fit.view} />}
        {(rec.picking === "region" || rec.picking === "page") && <RegionPicker k={fit.k} view={fit.view} />}
        {rec.picking === "outline" && <OutlinePicker k={fit.k} view={fit.view} />}
        {rec.countdown !== undefined && (
          <p
            role="timer"
            className="pointer-events-none absolute top-1/2 left-1/2 flex size-28 -translate-1/2 items-center justify-center rounded bg-ink text-5xl font-bold text-paper"
          >
            {rec.countdown}
          </p>
        )}
      </div>
    </div>
  );
}

/** Everything but a rectangle is dimmed. */
function Lit({ rect, k, view }: { rect: Rect; k: number; view: Rect }) {
  const [w, h] = [view.w * k, view.h * k];
  const [x, y, rw, rh] = [(rect.x - view.x) * k, (rect.y - view.y) * k, rect.w * k, rect.h * k];
  return (
    <svg aria-hidden className="pointer-events-none absolute inset-0" width={w} height={h}>
      <path
        fillRule="evenodd"
        fill="#16272d"
        fillOpacity={0.5}
        d={`M0 0H${w}V${h}H0Z M${x} ${y}H${x + rw}V${y + rh}H${x}Z`}
      />
      <rect x={x} y={y} width={rw} height={rh} fill="none" stroke="#f2b23e" strokeWidth={2} />
    </svg>
  );
}
