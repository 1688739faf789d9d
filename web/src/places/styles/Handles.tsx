import type { HouseStyle, Scene } from "../../base/api/client";

type Handle = {
  name: string;
  /** Where it lies, in points, and which way it goes. */
  at: number;
  across: boolean;
  min: number;
  max: number;
  value: number;
  say: string;
  /** The style after it was moved by some points. */
  moved: (by: number) => HouseStyle;
};

const mm = (points: number) => `${Math.round((points * 25.4) / 72)} mm`;

/** The margins, and the line between picture and words, are dragged on the page itself, or moved by the arrow keys. */
export function Handles(props: { sheet: Scene; style: HouseStyle; set: (style: HouseStyle, of?: string) => void }) {
  const { sheet, style, set } = props;
  const { margins: m } = style;
  const margin = (name: keyof typeof m, at: number, across: boolean, sign: 1 | -1): Handle => ({
    name: `${name[0]?.toUpperCase()}${name.slice(1)} margin`,
    at,
    across,
    min: 20,
    max: (across ? sheet.h : sheet.w) / 3,
    value: m[name],
    say: mm(m[name]),
    moved: (by) => {
      const to = Math.min((across ? sheet.h : sheet.w) / 3, Math.max(20, Math.round(m[name] + sign * by)));
      return { ...style, margins: { ...m, [name]: to } };
    },
  });
  const gutter = style.numbers.steps ? 40 : 0;
  const room = sheet.w - m.left - m.right - gutter;
  const handles: Handle[] = [
    margin("left", m.left, false, 1),
    margin("right", sheet.w - m.right, false, -1),
    margin("top", m.top, true, 1),
    margin("bottom", sheet.h - m.bottom, true, -1),
    ...(style.layout === "running"
      ? [
          {
            name: "Between picture and words",
            at: m.left + gutter + room * style.steps.share + 7,
            across: false,
            min: 30,
            max: 75,
            value: Math.round(style.steps.share * 100),
            say: `${Math.round(style.steps.share * 100)} % for pictures`,
            moved: (by: number) => ({
              ...style,
              steps: {
                ...style.steps,
                share: Math.min(0.75, Math.max(0.3, Math.round((style.steps.share + by / room) * 100) / 100)),
              },
            }),
          },
        ]
      : []),
  ];
  return (
    <svg viewBox={`0 0 ${sheet.w} ${sheet.h}`} className="pointer-events-none absolute inset-0 size-full">
      {handles.map((h) => (
        <g
          key={h.name}
          role="slider"
          tabIndex={0}
          aria-label={h.name}
          aria-valuemin={Math.round(h.min)}
          aria-valuemax={Math.round(h.max)}
          aria-valuenow={Math.round(h.value)}
          aria-valuetext={h.say}
          aria-orientation={h.across ? "vertical" : "horizontal"}
          className={`group pointer-events-auto ${h.across ? "cursor-row-resize" : "cursor-col-resize"} outline-none`}
          onKeyDown={(e) => {
            const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[e.key];
            if (by === undefined) return;
            e.preventDefault();
            set(h.moved(by * (e.shiftKey ? 10 : 2)), h.name);
          }}
          onPointerDown={(e) => {
            e.preventDefault();
            const line = e.currentTarget;
            line.focus();
            line.setPointerCapture(e.pointerId);
            const box = line.ownerSVGElement?.getBoundingClientRect();
            const k = box ? sheet.w / box.width : 1;
            const from = h.across ? e.clientY : e.clientX;
            const move = (to: PointerEvent) => set(h.moved(((h.across ? to.clientY : to.clientX) - from) * k), h.name);
            line.addEventListener("pointermove", move);
            line.addEventListener("pointerup", () => line.removeEventListener("pointermove", move), { once: true });
          }}
        >
          <line
            {...(h.across ? { x1: 0, x2: sheet.w, y1: h.at, y2: h.at } : { x1: h.at, x2: h.at, y1: 0, y2: sheet.h })}
            stroke="transparent"
            strokeWidth={8}
          />
          <line
            {...(h.across ? { x1: 0, x2: sheet.w, y1: h.at, y2: h.at } : { x1: h.at, x2: h.at, y1: 0, y2: sheet.h })}
            strokeDasharray="3 4"
            className="stroke-action/40 stroke-1 group-hover:stroke-action group-hover:stroke-2 group-focus-visible:stroke-action group-focus-visible:stroke-2"
          />
        </g>
      ))}
    </svg>
  );
}
