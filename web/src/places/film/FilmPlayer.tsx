import { sayMs } from "../../base/format";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef } from "react";
import type { Figure, HouseStyle } from "../../base/api/client";
import { useFrames } from "../../parts/clips/useFrames";
import { core, type FilmPlan } from "../../base/core/core";
import type { Row } from "../../parts/document/model";
import type { Picture } from "../../parts/document/picture";
import { Drawn, useDrawn } from "../../parts/stage/Drawn";
import { useColours } from "../../parts/stage/useColours";
import { paint } from "../../parts/stage/paint";
import { Button } from "../../base/ui/controls";
import { speech } from "../../parts/clips/speech";
import { sure } from "../../base/typed";

type Props = {
  plan: FilmPlan;
  at: number;
  playing: "" | "scene" | "all";
  onAt: (ms: number) => void;
  onPlaying: (how: "" | "scene" | "all") => void;
  document: string;
  style: HouseStyle;
  rows: Row[];
  firsts: Record<string, number>;
  pace: number;
  speaks: boolean;
  picture: (shot: string) => Picture;
};

const nothing: Figure = { id: "none", shot: "none", alt: "", marks: [] };

/** Plays a film before it is made: the browser draws it from the same core. */
export function FilmPlayer(props: Props) {
  const { plan, at, playing, onAt, onPlaying, style, rows, picture } = props;
  const index = Math.max(
    0,
    plan.scenes.findIndex((s) => at < s.start + s.length),
  );
  const scene = sure(plan.scenes[index]);
  const inside = at - scene.start;
  const segments = scene.segments ?? [];
  const one = sure(segments.find((s) => inside < s.start + s.length) ?? segments.at(-1));
  const figure = useMemo(
    () => rows.flatMap((r) => r.content.figures).find((f) => f.id === one.figure),
    [rows, one.figure],
  );
  const first = props.firsts[one.figure ?? ""] ?? 1;
  const own = figure && picture(figure.shot);
  const frames = useFrames(one.clip ? figure?.shot : undefined, one.clip ? figure?.clip : undefined);
  const through = one.clip && figure?.clip ? momentOf(figure.clip, (one.at ?? 0) + inside - one.start) : 0;
  const { go } = frames;
  useEffect(() => {
    if (one.clip) go(through);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a way to go is made anew each time
  }, [through, one.clip]);
  const hidden = one.hidden;
  const drawnFigure = useMemo(() => {
    if (!figure) return nothing;
    if (one.clip) return core.clipMoment(figure, frames.at);
    return hidden?.length ? core.filmFigure(figure, first, hidden) : figure;
  }, [figure, one.clip, frames.at, hidden, first]);
  const { drawing, frame } = useDrawn(drawnFigure, own?.size, first, figure !== undefined);
  const bare = useCallback(
    (shot: string) => {
      const p = picture(shot);
      return { href: one.clip && shot === figure?.shot && frames.frame ? frames.frame : p.whole, size: p.size };
    },
    [picture, one.clip, figure?.shot, frames.frame],
  );
  const pixels = useColours(drawnFigure, bare);
  const t = one.length > 0 ? Math.min(1, (inside - one.start) / one.length) : 0;
  const drawn = useMemo(
    () =>
      core.filmFrame({
        scene,
        segment: one,
        t,
        w: plan.w,
        h: plan.h,
        style,
        house: "",
        meta: "",
        picture: { x: 0, y: 0, w: frame.w, h: frame.h },
      }),
    [scene, one, t, plan.w, plan.h, style, frame.w, frame.h],
  );
  const layer = useRef<SVGGElement>(null);
  useLayoutEffect(() => {
    if (layer.current) paint(layer.current, drawn.items, pixels);
  }, [drawn, pixels]);
  useSound({ ...props, index, inside });

  // Time goes on by the clock; at the end of what is played it stands still.
  const begun = useRef({ at: 0, since: 0 });
  useEffect(() => {
    if (!playing) return;
    begun.current = { at, since: performance.now() };
    const until = playing === "all" ? plan.length : scene.start + scene.length;
    let frame = 0;
    const tick = () => {
      const now = begun.current.at + performance.now() - begun.current.since;
      if (now >= until) {
        onAt(Math.max(0, until - 1));
        onPlaying("");
        return;
      }
      onAt(now);
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- begun once for each time it is played
  }, [playing, plan]);

  const { area, source } = drawn;
  return (
    <section aria-label="Play" className="rounded border border-line bg-paper">
      <svg
        viewBox={`0 0 ${plan.w} ${plan.h}`}
        role="img"
        aria-label={`${scene.number} ${scene.words}`}
        className={`isolate block bg-paper ${plan.h > plan.w ? "mx-auto h-[26rem]" : "w-full"}`}
      >
        <g ref={layer} />
        {drawing && figure && area.w > 0 && (
          <svg
            x={area.x}
            y={area.y}
            width={area.w}
            height={area.h}
            preserveAspectRatio="none"
            viewBox={`${source.x * 1000} ${source.y * 1000} ${source.w * 1000} ${source.h * 1000}`}
          >
            <foreignObject x={0} y={0} width={1000} height={1000}>
              <div className="size-[1000px] [&>svg]:size-full">
                <Stretched drawing={drawing} pixels={pixels} />
              </div>
            </foreignObject>
          </svg>
        )}
      </svg>
      <div className="flex items-center gap-2 border-t border-line px-2 py-1.5">
        <Button small onClick={() => onPlaying(playing ? "" : "all")}>
          {playing ? "Stop" : "Play all"}
        </Button>
        {!playing && (
          <Button
            small
            onClick={() => {
              onAt(scene.start);
              onPlaying("scene");
            }}
          >
            Play this
          </Button>
        )}
        <input
          type="range"
          aria-label="Where in the film"
          aria-valuetext={`${sayMs(at)} of ${sayMs(plan.length)}`}
          min={0}
          max={plan.length - 1}
          step={100}
          value={at}
          onChange={(e) => {
            onPlaying("");
            onAt(Number(e.target.value));
          }}
          className="min-w-0 flex-1"
        />
        <span className="font-mono text-sm">{sayMs(at)}</span>
      </div>
    </section>
  );
}

/** A drawing that fills its place whatever its sides. */
function Stretched(props: Parameters<typeof Drawn>[0]) {
  const place = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => place.current?.querySelector("svg")?.setAttribute("preserveAspectRatio", "none"));
  return (
    <div ref={place} className="size-full">
      <Drawn {...props} />
    </div>
  );
}

/** What of a recording is seen at a moment of its finished clip. */
function momentOf(clip: NonNullable<Figure["clip"]>, ms: number): number {
  const runs = core.clipRuns(clip);
  const run = runs.find((r) => ms < r.start + r.length) ?? runs.at(-1);
  if (!run) return 0;
  return Math.round(run.from + (Math.min(run.length, ms - run.start) * (run.to - run.from)) / Math.max(1, run.length));
}

/** What is said, while it plays: each scene's when its time comes. */
function useSound(props: Props & { index: number; inside: number }) {
  const { plan, index, playing, speaks, document, pace, style } = props;
  const scene = plan.scenes[index];
  const started = useRef("");
  const latest = useRef(props.inside);
  useLayoutEffect(() => {
    latest.current = props.inside;
  });
  const says = scene && (scene.voice ?? (speaks && scene.said));
  const due = props.inside >= (scene?.speaks ?? 0);
  useEffect(() => {
    if (!playing || !scene || !says || !due) return;
    const name = `${scene.id} ${playing}`;
    if (started.current === name) return;
    started.current = name;
    const sound = new Audio();
    let gone = false;
    void (async () => {
      sound.src = scene.voice
        ? `/api/documents/${document}/voices/${scene.voice.sha256}`
        : await speech(scene.said, style.language, pace);
      if (gone) return;
      sound.currentTime = Math.max(0, (latest.current - scene.speaks) / 1000);
      await sound.play();
    })().catch(() => undefined); // it plays without
    return () => {
      gone = true;
      sound.pause();
      started.current = "";
    };
  }, [playing, scene, says, due, document, style.language, pace]);
}
