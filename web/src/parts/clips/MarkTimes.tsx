import { reasonOf } from "../../base/reason";
import { sayMs } from "../../base/format";
import { useState } from "react";
import type { Clip, Figure, Mark, Span } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { followed } from "./looked";

type Props = {
  figure: Figure;
  clip: Clip;
  mark: Mark | undefined;
  at: number;
  /** What is chosen on the strip. */
  range: Span | undefined;
  go: (ms: number) => void;
  onChange: (label: string, part: Partial<Figure>) => void;
};

const names: Record<string, string> = { concealment: "Concealed", patch: "Covered", marker: "Number" };

const nameOf = (m: Mark) => {
  const kind = names[m.kind] ?? m.kind.charAt(0).toUpperCase() + m.kind.slice(1);
  return m.text ? `${kind} “${m.text.slice(0, 24)}”` : kind;
};

/** When each mark is there: a bar for each under the strip, and for the chosen one what can be done. */
export function MarkTimes({ figure, clip, mark, at, range, go, onChange }: Props) {
  const notice = useNotice();
  const [busy, setBusy] = useState(false);
  const put = (label: string, part: Partial<Mark>) =>
    onChange(label, { marks: figure.marks.map((m) => (m.id === mark?.id ? { ...m, ...part } : m)) });
  const follow = async () => {
    const [a, b] = mark?.points ?? [];
    if (!mark || !a || !b) return;
    const part = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), w: Math.abs(a.x - b.x), h: Math.abs(a.y - b.y) };
    const moved = mark.path?.find((p) => p.at === at)?.by ?? { x: 0, y: 0 };
    setBusy(true);
    try {
      const path = await followed(figure.shot, at, { ...part, x: part.x + moved.x, y: part.y + moved.y });
      put("Let it follow what it covers", {
        path: path.map((p) => ({ ...p, by: { x: p.by.x + moved.x, y: p.by.y + moved.y } })),
      });
      const unsure = path.filter((p) => p.unsure).length;
      notice({
        text:
          unsure > 0
            ? "It follows what it covers. Where that was not found for certain, it stays where it was last; look at those moments."
            : "It follows what it covers, and was found throughout.",
      });
    } catch (e) {
      notice({ text: reasonOf(e) });
    } finally {
      setBusy(false);
    }
  };
  if (figure.marks.length === 0) return null;
  const percent = (ms: number) => `${(100 * ms) / clip.ms}%`;
  const unsure = (mark?.path ?? []).filter((p) => p.unsure);
  return (
    <div className="space-y-1">
      <ul aria-label="When marks are there" className="max-h-24 space-y-0.5 overflow-y-auto">
        {figure.marks.map((m) => {
          const span = m.during ?? { from: 0, to: clip.ms };
          return (
            <li key={m.id} className="relative h-5">
              <button
                type="button"
                onClick={() => go(span.from)}
                className={`absolute h-5 min-w-3 truncate rounded-sm border px-1 text-left text-xs whitespace-nowrap ${m.id === mark?.id ? "border-action bg-action text-paper" : "border-soft bg-paper text-ink"}`}
                style={{ left: percent(span.from), width: percent(span.to - span.from) }}
              >
                {nameOf(m)}
                {m.path && m.path.length > 1 ? ", follows" : ""}
                {(m.path ?? []).some((p) => p.unsure) && " (not sure everywhere)"}
              </button>
            </li>
          );
        })}
      </ul>
      {mark && (
        <div className="flex flex-wrap items-center gap-1.5 text-sm">
          <span className="text-soft">
            {nameOf(mark)}:{" "}
            {mark.during
              ? `there from ${sayMs(mark.during.from, true)} to ${sayMs(mark.during.to, true)}`
              : "there the whole time"}
          </span>
          {range && (
            <Button small onClick={() => put("Show a mark for a while", { during: range })}>
              Only from {sayMs(range.from, true)} to {sayMs(range.to, true)}
            </Button>
          )}
          {!range && at > 0 && (
            <>
              <Button
                small
                onClick={() =>
                  put("Show a mark for a while", {
                    during: { from: at, to: Math.max(at + 1, mark.during?.to ?? clip.ms) },
                  })
                }
              >
                From here on
              </Button>
              <Button
                small
                onClick={() =>
                  put("Show a mark for a while", { during: { from: Math.min(at - 1, mark.during?.from ?? 0), to: at } })
                }
              >
                Until here
              </Button>
            </>
          )}
          {mark.during && (
            <Button small onClick={() => put("Show a mark the whole time", { during: undefined })}>
              The whole time
            </Button>
          )}
          {["concealment", "patch", "box", "ellipse", "highlight"].includes(mark.kind) && (
            <Button small disabled={busy} onClick={() => void follow()}>
              {busy ? "Looking …" : mark.kind === "concealment" ? "Follow what it covers" : "Follow what is in it"}
            </Button>
          )}
          {mark.path && (
            <Button small onClick={() => put("Let a mark stay in its place", { path: undefined })}>
              Stay in its place
            </Button>
          )}
          {unsure.length > 0 && (
            <span className="text-look">
              Not found for certain at{" "}
              {unsure.slice(0, 6).map((p, i) => (
                <span key={p.at}>
                  {i > 0 && ", "}
                  <button type="button" className="underline" onClick={() => go(p.at)}>
                    {sayMs(p.at, true)}
                  </button>
                </span>
              ))}
              {unsure.length > 6 && ` and ${unsure.length - 6} more`}: look, and drag it where it belongs.
            </span>
          )}
        </div>
      )}
    </div>
  );
}
