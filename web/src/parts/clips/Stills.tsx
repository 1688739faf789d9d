import { sayMs } from "../../base/format";
import { useQuery } from "@tanstack/react-query";
import type { Clip, Span } from "../../base/api/client";
import { core } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { stillsOf } from "./looked";

/** Where nothing moves: shown, and taken out, run through fast, or left. */
export function Stills(props: {
  shot: string;
  clip: Clip;
  go: (ms: number) => void;
  onChange: (label: string, clip: Clip) => void;
  onFaster: (span: Span) => void;
}) {
  const { shot, clip } = props;
  const stills = useQuery({
    queryKey: ["stills", shot],
    queryFn: ({ signal }) => stillsOf(shot, signal),
    staleTime: Infinity,
    retry: false,
  });
  const parts = clip.parts ?? [{ from: 0, to: clip.ms }];
  // Some of it stays, so that what was there before is taken in.
  const left = (stills.data ?? [])
    .map((s) => ({ from: s.from + 500, to: s.to }))
    .filter((s) => s.to - s.from > 800 && parts.some((p) => p.from <= s.from && p.to >= s.to && !p.speed));
  if (stills.error) return <p className="text-sm text-soft">{stills.error.message}</p>;
  if (left.length === 0) return null;
  const long = (s: Span) => `${((s.to - s.from) / 1000).toFixed(1)} s`;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
      {left.slice(0, 4).map((s) => (
        <span key={s.from} className="flex items-center gap-1.5">
          <button type="button" className="text-action underline" onClick={() => props.go(s.from)}>
            Nothing moves for {long(s)} at {sayMs(s.from)}
          </button>
          <Button
            small
            onClick={() => props.onChange("Take out where nothing moves", core.clipWithout(clip, [s]))}
            aria-label={`Take out at ${sayMs(s.from)}`}
          >
            Take out
          </Button>
          <Button small onClick={() => props.onFaster(s)} aria-label={`Run through it fast at ${sayMs(s.from)}`}>
            Run through it fast
          </Button>
        </span>
      ))}
      {left.length > 1 && (
        <Button small onClick={() => props.onChange("Take out where nothing moves", core.clipWithout(clip, left))}>
          Take all {left.length} out
        </Button>
      )}
    </div>
  );
}
