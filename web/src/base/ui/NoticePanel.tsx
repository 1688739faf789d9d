import type { ReactNode } from "react";
import type { Notice } from "../api/client";

export type Signal = Notice["signal"];

/** The panel of each signal word, in the colours of ANSI Z535.1. */
const looks: Record<Signal, { panel: string; frame: string; behind: string }> = {
  danger: { panel: "bg-[#c8102e] text-[#fff]", frame: "border-[#c8102e]", behind: "#c8102e" },
  warning: { panel: "bg-[#ff8200] text-[#000]", frame: "border-[#ff8200]", behind: "#ff8200" },
  caution: { panel: "bg-[#ffd100] text-[#000]", frame: "border-[#ffd100]", behind: "#ffd100" },
  notice: { panel: "bg-[#0067b1] text-[#fff] italic", frame: "border-[#0067b1]", behind: "#0067b1" },
};

/** A signal word, with the safety alert symbol where people may be hurt. */
export function SignalWord({ signal }: { signal: Signal }) {
  return (
    <span
      className={`inline-flex items-center gap-1.5 px-2 py-0.5 text-sm font-bold tracking-wide ${looks[signal].panel}`}
    >
      {signal !== "notice" && (
        <svg width={15} height={13} viewBox="0 0 15 13" aria-hidden>
          <path d="M7.5 0 15 13H0Z" fill="currentColor" />
          <path d="M6.8 4h1.4l-.2 4.6H7zM6.8 9.6h1.4v1.6H6.8z" fill={looks[signal].behind} />
        </svg>
      )}
      {signal.toUpperCase()}
    </span>
  );
}

/** A notice as readers see it: the signal word, the hazard, what follows, how to avoid it. */
export function NoticePanel({ notice, children }: { notice: Notice; children?: ReactNode }) {
  const { frame, panel } = looks[notice.signal];
  return (
    <div role="note" aria-label={notice.signal} className={`mb-3 border-2 bg-paper ${frame}`}>
      <div className={panel}>
        <SignalWord signal={notice.signal} />
      </div>
      <div className="space-y-0.5 px-2 py-1.5 text-base leading-snug">
        {children ??
          [notice.hazard, notice.consequence, notice.avoid]
            .filter((line) => line.trim())
            .map((line, i) => <p key={i}>{line}</p>)}
      </div>
    </div>
  );
}
