import type { Clip } from "../../base/api/client";
import { sayMs } from "../../base/format";

/** Where a recording stands still for a while. */
export function Freezes(props: {
  clip: Clip;
  go: (ms: number) => void;
  onChange: (freezes: NonNullable<Clip["freezes"]>) => void;
}) {
  const { clip, go, onChange } = props;
  const freezes = clip.freezes ?? [];
  if (freezes.length === 0) return null;
  return (
    <ul className="flex flex-wrap gap-1.5 text-sm" aria-label="Freezes">
      {freezes.map((f, i) => (
        <li key={i} className="flex items-center gap-1 rounded border border-line bg-paper px-1.5">
          <button type="button" className="text-action underline" onClick={() => go(f.at)}>
            {sayMs(f.at, true)}
          </button>
          stands for
          <select
            aria-label={`How long it stands at ${sayMs(f.at, true)}`}
            value={f.for}
            onChange={(e) => onChange(freezes.map((g, j) => (i === j ? { ...g, for: Number(e.target.value) } : g)))}
            className="bg-paper"
          >
            {[1000, 2000, 3000, 5000, 10_000].map((ms) => (
              <option key={ms} value={ms}>
                {ms / 1000} s
              </option>
            ))}
          </select>
          <button
            type="button"
            aria-label={`Let it run at ${sayMs(f.at, true)}`}
            onClick={() => onChange(freezes.filter((_, j) => j !== i))}
            className="px-1 text-soft hover:text-ink"
          >
            ×
          </button>
        </li>
      ))}
    </ul>
  );
}
