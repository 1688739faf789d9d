import { sayMs } from "../../base/format";
import { type ReactNode, useEffect, useState } from "react";
import { Button } from "../../base/ui/controls";
import { Problem, toldBy } from "../../base/api/client";

const often = 700; // milliseconds between questions whether it is made

/**
 * A clip in its step: its picture until it is played. What has not been made yet is waited for, and can be waited for
 * here.
 */
export function PlayedClip({
  address,
  alt,
  ms,
  children,
}: {
  address: string;
  alt: string;
  ms: number;
  children: ReactNode;
}) {
  const [wanted, setWanted] = useState(false);
  const [ready, setReady] = useState(false);
  const [said, setSaid] = useState("");
  useEffect(() => {
    if (!wanted || ready) return;
    const gone = new AbortController();
    const ask = async () => {
      while (!gone.signal.aborted) {
        const answer = await fetch(address, { headers: { Range: "bytes=0-0" }, signal: gone.signal });
        if (answer.status === 206 || answer.status === 200) {
          setReady(true);
          return;
        }
        const told = await toldBy<{ done?: number; total?: number; error?: string }>(
          answer,
          "The clip can’t be played now.",
        );
        if (told.error) {
          setSaid(told.error);
          setWanted(false);
          return;
        }
        const share = told.total ? ` ${Math.round((100 * (told.done ?? 0)) / told.total)} %` : "";
        setSaid(`The clip is being made …${share}`);
        await new Promise((done) => setTimeout(done, often));
      }
    };
    ask().catch((e: unknown) => {
      if (gone.signal.aborted) return;
      setSaid(e instanceof Problem ? e.message : "The clip can’t be had now. Try again.");
      setWanted(false);
    });
    return () => gone.abort();
  }, [wanted, ready, address]);
  if (ready)
    return (
      <video
        controls
        autoPlay
        src={address}
        aria-label={alt}
        className="mb-3 block max-h-[75dvh] max-w-full border border-line print:hidden"
      />
    );
  const length = sayMs(ms);
  return (
    <div className="mb-3 [&>div:first-child]:mb-1">
      {children}
      <p className="flex items-center gap-2 print:hidden">
        <Button small disabled={wanted} onClick={() => setWanted(true)}>
          Play the clip, {length}
        </Button>
        <span role="status" className="text-sm text-soft">
          {said}
        </span>
      </p>
    </div>
  );
}
