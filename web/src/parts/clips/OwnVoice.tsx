import { bytes } from "../../base/api/bytes";
import { reasonOf } from "../../base/reason";
import { sayMs } from "../../base/format";
import { useEffect, useRef, useState } from "react";
import { type Content, expect, api } from "../../base/api/client";
import { TimeTyped } from "./TimeTyped";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";

type Voice = NonNullable<NonNullable<Content["film"]>["voice"]>;

/**
 * A person's own voice for a step: recorded, heard, taken again, its ends trimmed. Without one, a synthetic voice
 * speaks.
 */
export function OwnVoice(props: {
  document: string;
  voice: Voice | undefined;
  silent: boolean;
  name: string;
  onVoice: (voice: Voice | undefined) => void;
}) {
  const { document, voice, onVoice } = props;
  const notice = useNotice();
  const [state, setState] = useState<"" | "recording" | "sending">("");
  const [level, setLevel] = useState(0);
  const [lasts, setLasts] = useState(0);
  const [trimming, setTrimming] = useState(false);
  const end = useRef<() => void>(undefined);
  useEffect(() => () => end.current?.(), []);

  const keep = async (body: Blob, query: { of?: string; from?: number; to?: number }) => {
    setState("sending");
    try {
      const made = await expect(
        api.POST("/api/documents/{document}/voices", {
          params: { path: { document }, query },
          ...bytes(body),
        }),
      );
      onVoice(made);
    } catch (e) {
      notice({ text: reasonOf(e) });
    } finally {
      setState("");
    }
  };
  const record = async () => {
    let stream: MediaStream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio: true });
    } catch {
      notice({ text: "The microphone can’t be used: allow it in the browser, and see that one is there." });
      return;
    }
    const recorder = new MediaRecorder(stream);
    const pieces: Blob[] = [];
    const context = new AudioContext();
    const heard = context.createAnalyser();
    context.createMediaStreamSource(stream).connect(heard);
    const samples = new Float32Array(heard.fftSize);
    const begun = performance.now();
    const meter = setInterval(() => {
      setLasts(performance.now() - begun);
      heard.getFloatTimeDomainData(samples);
      setLevel(Math.min(1, samples.reduce((m, s) => Math.max(m, Math.abs(s)), 0) * 1.4));
    }, 100);
    const close = () => {
      clearInterval(meter);
      void context.close();
      stream.getTracks().forEach((t) => t.stop());
      end.current = undefined;
    };
    recorder.ondataavailable = (e) => pieces.push(e.data);
    recorder.onstop = () => {
      close();
      void keep(new Blob(pieces), {});
    };
    end.current = () => {
      recorder.onstop = null;
      recorder.stop();
      close();
    };
    recorder.start();
    setState("recording");
    stop.current = () => recorder.stop();
  };
  const stop = useRef<() => void>(undefined);

  if (state === "recording") {
    return (
      <div role="group" aria-label={`Recording what is said at ${props.name}`}>
        <p className="flex items-center gap-2">
          <meter aria-label="How loud the microphone is" min={0} max={1} value={level} className="min-w-0 flex-1" />
          <span role="timer" className="text-sm tabular-nums text-soft">
            {sayMs(lasts)}
          </span>
        </p>
        <Button small look="main" onClick={() => stop.current?.()}>
          End the recording
        </Button>
      </div>
    );
  }
  if (state === "sending") return <p role="status">Being made even …</p>;
  return (
    <div className="space-y-1">
      <p className="text-soft">
        {voice ? `Your voice, ${sayMs(voice.ms, true).replace(/.$/, "")}` : props.silent ? "Nobody" : "Synthetic voice"}
      </p>
      {voice && (
        <audio
          controls
          preload="none"
          src={`/api/documents/${document}/voices/${voice.sha256}`}
          aria-label={`What is said at ${props.name}`}
          className="h-8 w-full"
        />
      )}
      <div className="flex flex-wrap gap-1">
        <Button small onClick={() => void record()} aria-label={`${voice ? "Take again" : "Record"}, ${props.name}`}>
          {voice ? "Take again" : "Record"}
        </Button>
        {voice && (
          <>
            <Button small aria-expanded={trimming} onClick={() => setTrimming(!trimming)}>
              Trim
            </Button>
            <Button small onClick={() => onVoice(undefined)}>
              Take it out
            </Button>
          </>
        )}
      </div>
      {voice && trimming && (
        <Trim
          key={voice.sha256}
          voice={voice}
          onTrim={(from, to) => {
            setTrimming(false);
            void keep(new Blob([]), { of: voice.sha256, from, to });
          }}
        />
      )}
    </div>
  );
}

function Trim({ voice, onTrim }: { voice: Voice; onTrim: (from: number, to: number) => void }) {
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(voice.ms);
  return (
    <div className="space-y-1">
      <span className="flex items-center gap-1">
        <TimeTyped label="Begin at" value={from} onTime={(ms) => setFrom(Math.min(ms, voice.ms))} />
        to
        <TimeTyped label="End at" value={to} onTime={(ms) => setTo(Math.min(ms, voice.ms))} />
      </span>
      <Button
        small
        why={to - from < 200 && "What is left would be too short to be heard."}
        onClick={() => onTrim(from, to)}
      >
        Keep only that
      </Button>
    </div>
  );
}
