import { useKeys } from "../../base/keys/useKeys";
import { sayMs } from "../../base/format";
import { type PointerEvent, useRef, useState } from "react";
import { useMatch } from "react-router";
import type { Clip, Figure, Mark, Span } from "../../base/api/client";
import { core } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { Freezes } from "./Freezes";
import { gaps, joined } from "./spans";
import { Camera } from "./Camera";
import { ClipSound } from "./ClipSound";
import { frame, Handle } from "./Handle";
import { MarkTimes } from "./MarkTimes";
import { Stills } from "./Stills";
import { TimeTyped } from "./TimeTyped";
import { clipLength } from "./time";
import type { Frames } from "./useFrames";
import { around } from "../../base/typed";

type Props = {
  figure: Figure;
  clip: Clip;
  frames: Frames;
  /** The chosen mark, as it is kept. */
  mark: Mark | undefined;
  onChange: (label: string, part: Partial<Figure>) => void;
  /** Takes what is seen now as a shot of its own. */
  onShot: () => void;
};

/** A recording laid out in time: what of it is shown, how fast, with which sound, and when its marks are there. */
export function Timeline({ figure, clip, frames, mark, onChange, onShot }: Props) {
  const [range, setRange] = useState<Span>();
  const document = useMatch("/d/:id/write")?.params.id;
  const strip = useRef<HTMLDivElement>(null);
  const from = useRef<number>(undefined);
  const { at, go } = frames;
  const set = (label: string, part: Partial<Clip>) => onChange(label, { clip: { ...clip, ...part } });
  const parts = clip.parts ?? [{ from: 0, to: clip.ms }];
  const here = range ?? { from: at, to: at };
  const wide = here.to > here.from;
  const narrow = !wide && "Choose a stretch first: drag along the strip, or move its ends.";

  useKeys("The recording", [
    { keys: ".", does: "Go on by a picture", run: () => go(at + frame) },
    { keys: ",", does: "Go back by a picture", run: () => go(at - frame) },
    { keys: "P", does: "Play, or stop", run: () => frames.play() },
    { keys: "G", does: "Take this frame as a shot", run: onShot },
  ]);

  const place = (e: PointerEvent) => {
    const box = strip.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1);
    return Math.round(Math.min(1, Math.max(0, (e.clientX - box.left) / box.width)) * clip.ms);
  };
  const cut = (label: string, next: Clip) => onChange(label, { clip: next });
  const keepOnly = () =>
    cut(
      "Trim a clip",
      core.clipWithout(
        clip,
        [
          { from: 0, to: here.from },
          { from: here.to, to: clip.ms },
        ].filter((s) => s.to > s.from),
      ),
    );
  const speed = (times: number) => {
    const whole = core.clipWithout(clip, [here]).parts ?? [];
    const inside = parts
      .map((p) => ({ ...p, from: Math.max(p.from, here.from), to: Math.min(p.to, here.to), speed: times }))
      .filter((p) => p.to > p.from)
      .map(({ speed: s, ...p }) => (s === 1 ? p : { ...p, speed: s }));
    const all = here.from <= 0 && here.to >= clip.ms ? inside : [...whole, ...inside];
    set("Change how fast a clip runs", { parts: all.sort((a, b) => a.from - b.from) });
  };
  const faster = (s: Span) =>
    set("Let it run faster where nothing moves", {
      parts: [...(core.clipWithout(clip, [s]).parts ?? []), { ...s, speed: 8 }].sort((a, b) => a.from - b.from),
    });
  const moveEnd = (side: "from" | "to", ms: number) => {
    const next = { from: parts[0]?.from ?? 0, to: parts.at(-1)?.to ?? clip.ms, [side]: ms };
    if (next.to - next.from < frame) return;
    const out = [
      { from: 0, to: next.from },
      { from: next.to, to: clip.ms },
    ].filter((s) => s.to > s.from);
    // A handle that is drawn outwards brings back what it passes.
    const grown = parts.map((p, i) => ({
      ...p,
      ...(i === 0 && side === "from" && { from: Math.min(p.from, ms) }),
      ...(i === parts.length - 1 && side === "to" && { to: Math.max(p.to, ms) }),
    }));
    cut("Trim a clip", core.clipWithout({ ...clip, parts: grown }, out));
    go(side === "from" ? next.from : next.to - 1);
  };
  const percent = (ms: number) => `${(100 * ms) / clip.ms}%`;
  const gone = gaps(parts, clip.ms);
  const [begins, finishes] = [parts[0]?.from ?? 0, parts.at(-1)?.to ?? clip.ms];
  return (
    <section aria-label="Clip" className="mt-2 space-y-2 border-t border-line pt-2">
      <div className="flex flex-wrap items-center gap-2 text-sm">
        <Button small onClick={frames.play} aria-pressed={frames.playing}>
          {frames.playing ? "Stop" : "Play"}
        </Button>
        <label className="flex items-center gap-1">
          <span className="text-soft">At</span>
          <TimeTyped label="At" value={at} onTime={go} />
        </label>
        <span role="status" className="text-soft">
          {sayMs(clipLength(clip), true)} long, of {sayMs(clip.ms, true)} that were recorded
        </span>
        <span className="flex-1" />
        <Button small onClick={onShot} title="What is seen now becomes a shot of its own">
          Take this frame <kbd className="font-mono text-xs text-soft">G</kbd>
        </Button>
        <Button small onClick={() => set("Choose the picture of a clip", { poster: at })}>
          Use it as the picture
        </Button>
        {clip.sounds && (
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={!clip.mute}
              onChange={(e) =>
                set(e.target.checked ? "Let a clip be heard" : "Mute a clip", { mute: !e.target.checked })
              }
            />
            With sound
          </label>
        )}
      </div>
      <div
        ref={strip}
        className="relative mb-0 h-14 touch-none overflow-hidden bg-ink select-none"
        onPointerDown={(e) => {
          if (around(e, "[role=slider]")) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = place(e);
          setRange(undefined);
          go(from.current);
        }}
        onPointerMove={(e) => {
          if (from.current === undefined) return;
          const to = place(e);
          if (Math.abs(to - from.current) > clip.ms / 200)
            setRange({ from: Math.min(from.current, to), to: Math.max(from.current, to) });
          go(to);
        }}
        onPointerUp={() => (from.current = undefined)}
      >
        <img src={`/api/shots/${figure.shot}/clip/strip`} alt="" draggable={false} className="size-full object-fill" />
        {gone.map((s) => (
          <span
            key={s.from}
            title="Cut out"
            className="absolute inset-y-0 bg-ink/80"
            style={{ left: percent(s.from), width: percent(s.to - s.from) }}
          />
        ))}
        {(clip.silent ?? []).map((s) => (
          <span
            key={s.from}
            title="Silent"
            className="absolute bottom-0 h-1.5 bg-mustfix"
            style={{ left: percent(s.from), width: percent(s.to - s.from) }}
          />
        ))}
        {wide && (
          <span
            className="absolute inset-y-0 bg-action/40"
            style={{ left: percent(here.from), width: percent(here.to - here.from) }}
          />
        )}
        <span className="absolute inset-y-0 w-0.5 bg-paper ring-1 ring-ink" style={{ left: percent(at) }} />
      </div>
      {/* What is kept: bracketed below the strip, each end with its time. */}
      <div className="relative h-7 touch-none select-none">
        <span
          aria-hidden
          className="absolute top-0 h-2.5 border-x-2 border-b-2 border-action"
          style={{ left: percent(begins), width: percent(finishes - begins) }}
        />
        <Handle label="Beginning" at={begins} ms={clip.ms} onMove={(ms) => moveEnd("from", ms)} place={place} />
        <Handle label="End" at={finishes} ms={clip.ms} onMove={(ms) => moveEnd("to", ms)} place={place} />
      </div>
      <div className="flex flex-wrap items-center gap-1.5 text-sm">
        <span className="text-soft">From</span>
        <TimeTyped label="From" value={here.from} onTime={(ms) => setRange({ from: ms, to: Math.max(ms, here.to) })} />
        <span className="text-soft">to</span>
        <TimeTyped label="to" value={here.to} onTime={(ms) => setRange({ from: Math.min(here.from, ms), to: ms })} />
        <Button small why={narrow} onClick={() => cut("Cut out of a clip", core.clipWithout(clip, [here]))}>
          Cut out
        </Button>
        <Button small why={narrow} onClick={keepOnly}>
          Keep only this
        </Button>
        <select
          aria-label="How fast"
          value=""
          disabled={!wide}
          onChange={(e) => speed(Number(e.target.value))}
          className="rounded border border-soft bg-paper px-1.5 py-0.5 disabled:opacity-60"
        >
          <option value="" disabled>
            How fast …
          </option>
          {[0.5, 1, 2, 4, 8].map((k) => (
            <option key={k} value={k}>
              {k === 1 ? "As recorded" : `${k} times as fast`}
            </option>
          ))}
        </select>
        {clip.sounds && (
          <Button
            small
            why={narrow}
            onClick={() => set("Silence a part of a clip", { silent: joined([...(clip.silent ?? []), here]) })}
          >
            Silence
          </Button>
        )}
        <Button small onClick={() => set("Freeze a clip", { freezes: [...(clip.freezes ?? []), { at, for: 2000 }] })}>
          Freeze here for 2 s
        </Button>
        {(clip.parts ?? clip.freezes ?? clip.silent) && (
          <Button
            small
            onClick={() => {
              const { ms, poster, sounds, camera, voice } = clip;
              onChange("Show all of a recording", { clip: { ms, poster, sounds, camera, voice } });
            }}
          >
            All of it again
          </Button>
        )}
      </div>
      <Freezes clip={clip} go={go} onChange={(freezes) => set("Freeze a clip", { freezes })} />
      <MarkTimes
        figure={figure}
        clip={clip}
        mark={mark}
        at={at}
        go={go}
        range={wide ? here : undefined}
        onChange={onChange}
      />
      {document && (
        <ClipSound
          document={document}
          clip={clip}
          onChange={(voice) => set(voice ? "Replace the sound of a clip" : "Let a clip have its own sound", { voice })}
        />
      )}
      {clip.camera && <Camera clip={clip} onChange={(label, camera) => set(label, { camera })} />}
      <Stills shot={figure.shot} clip={clip} go={go} onChange={cut} onFaster={faster} />
    </section>
  );
}
