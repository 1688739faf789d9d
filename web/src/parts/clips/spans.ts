import type { Span } from "../../base/api/client";

/** What of a recording is cut out. */
export function gaps(parts: Span[], ms: number): Span[] {
  const out: Span[] = [];
  let end = 0;
  for (const p of parts) {
    if (p.from > end) out.push({ from: end, to: p.from });
    end = p.to;
  }
  if (end < ms) out.push({ from: end, to: ms });
  return out;
}

/** Stretches in order, those that touch as one. */
export function joined(spans: Span[]): Span[] {
  const out: Span[] = [];
  for (const s of [...spans].sort((a, b) => a.from - b.from)) {
    const last = out.at(-1);
    if (last && s.from <= last.to) last.to = Math.max(last.to, s.to);
    else out.push({ ...s });
  }
  return out;
}
