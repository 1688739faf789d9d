import { useEffect, useRef, useState } from "react";
import type { Clip } from "../../base/api/client";
import { core } from "../../base/core/core";

const often = 90; // milliseconds between pictures while a clip plays: each is drawn with its marks

/**
 * The pictures of a recording, one at a time, as addresses of pictures: that of a moment, or one after the other as the
 * finished clip plays.
 */
export function useFrames(shot: string | undefined, clip: Clip | undefined) {
  const [at, setAt] = useState(clip?.poster ?? 0);
  const [frame, setFrame] = useState<string>();
  const [playing, setPlaying] = useState(false);
  const video = useRef<HTMLVideoElement>(undefined);
  const moving = clip !== undefined;
  const [opened, setOpened] = useState(shot);
  if (opened !== shot) {
    setOpened(shot);
    setAt(clip?.poster ?? 0);
    setFrame(undefined);
    setPlaying(false);
  }

  useEffect(() => {
    if (!shot || !moving) return;
    const made = document.createElement("video");
    made.muted = true;
    made.preload = "auto";
    made.src = `/api/shots/${shot}/clip`;
    video.current = made;
    let last: string | undefined;
    const canvas = document.createElement("canvas");
    const draw = () => {
      if (made.videoWidth === 0) return;
      canvas.width = made.videoWidth;
      canvas.height = made.videoHeight;
      canvas.getContext("2d")?.drawImage(made, 0, 0);
      canvas.toBlob(
        (blob) => {
          if (!blob || video.current !== made) return;
          const before = last;
          last = URL.createObjectURL(blob);
          setFrame(last);
          if (before) setTimeout(() => URL.revokeObjectURL(before), 1000); // it may still be on the screen
        },
        "image/jpeg",
        0.92,
      );
    };
    made.addEventListener("seeked", draw);
    made.addEventListener("loadeddata", draw);
    return () => {
      video.current = undefined;
      made.removeAttribute("src");
      made.load();
      if (last) URL.revokeObjectURL(last);
    };
  }, [shot, moving]);

  // What is shown is a little behind the very beginning: players have no picture at the border itself.
  useEffect(() => {
    const made = video.current;
    if (!made || playing) return;
    const seek = () => void (made.currentTime = Math.max(0.001, at / 1000));
    if (made.readyState >= 1) seek();
    else made.addEventListener("loadedmetadata", seek, { once: true });
    return () => made.removeEventListener("loadedmetadata", seek);
  }, [at, playing, shot, moving]);

  const begun = useRef({ at: 0, since: 0 });
  const [now, setNow] = useState<HTMLAudioElement>();
  useEffect(() => {
    if (!playing || !clip) return;
    const runs = core.clipRuns(clip);
    const last = runs.at(-1);
    const length = last ? last.start + last.length : 0;
    const made = video.current;
    const timer = setInterval(() => {
      const t = begun.current.at + performance.now() - begun.current.since;
      const run = runs.find((r) => t < r.start + r.length);
      if (!run || t >= length) {
        setPlaying(false);
        return;
      }
      const there = run.from + ((t - run.start) * (run.to - run.from)) / run.length;
      setAt(Math.round(there));
      if (made) made.currentTime = Math.max(0.001, there / 1000);
      // What is heard keeps to what is seen: over a cut it is sought, where it is silenced or stands it is not heard.
      if (now) {
        const silent = clip.silent?.some((s) => there >= s.from && there < s.to) || run.to === run.from;
        now.volume = silent ? 0 : 1;
        now.playbackRate = Math.min(8, Math.max(0.25, (run.to - run.from) / run.length || 1));
        if (Math.abs(now.currentTime - there / 1000) > 0.35) now.currentTime = there / 1000;
      }
    }, often);
    return () => clearInterval(timer);
  }, [playing, clip, now]);
  useEffect(() => () => now?.pause(), [now]);

  const play = () => {
    if (!clip) return;
    if (playing) {
      setPlaying(false);
      now?.pause();
      return;
    }
    const runs = core.clipRuns(clip);
    const last = runs.at(-1);
    const length = last ? last.start + last.length : 0;
    let from = 0;
    for (const r of runs)
      if (at >= r.from && at < Math.max(r.to, r.from + 1))
        from = r.start + ((at - r.from) * r.length) / Math.max(1, r.to - r.from);
    if (from > length - 200) from = 0;
    begun.current = { at: from, since: performance.now() };
    if (clip.sounds && !clip.mute && shot) {
      const sound = now ?? new Audio(`/api/shots/${shot}/clip`);
      sound.currentTime = at / 1000;
      void sound.play().catch(() => undefined); // a browser may want a press first: it plays without
      setNow(sound);
    }
    setPlaying(true);
  };
  const go = (ms: number) => {
    if (!clip) return;
    setPlaying(false);
    now?.pause();
    setAt(Math.min(clip.ms - 1, Math.max(0, Math.round(ms))));
  };
  return { at, frame, playing, play, go };
}

export type Frames = ReturnType<typeof useFrames>;
