import { useEffect, useState } from "react";

/** What the recorder in this browser tells of itself; see recorder/src/types.ts. */
export type RecorderStatus = {
  run: { state: "idle" | "recording" | "paused"; session: string; taken: number; said?: string };
  waiting: number;
  trouble: string;
  everywhere: boolean;
};

export type RecorderAct = "start" | "pause" | "go-on" | "stop";

const asks = 700; // milliseconds

/** The recorder of this browser, where there is one that is connected and may be asked from here. */
export function useBrowserRecorder(): { status?: RecorderStatus; tell: (act: RecorderAct) => void } {
  const [status, setStatus] = useState<RecorderStatus>();
  const tell = (act: RecorderAct | "status") => window.postMessage({ toRecorder: act }, location.origin);
  useEffect(() => {
    const hear = (e: MessageEvent<{ fromRecorder?: RecorderStatus } | undefined>) => {
      if (e.source === window && e.data?.fromRecorder) setStatus(e.data.fromRecorder);
    };
    addEventListener("message", hear);
    tell("status");
    const timer = setInterval(() => tell("status"), asks);
    return () => {
      removeEventListener("message", hear);
      clearInterval(timer);
    };
  }, []);
  return { status, tell };
}
