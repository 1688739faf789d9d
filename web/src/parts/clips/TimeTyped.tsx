import { readMs, sayMs } from "../../base/format";
import { useState } from "react";

/** A time that can be typed. */
export function TimeTyped({ label, value, onTime }: { label: string; value: number; onTime: (ms: number) => void }) {
  const [text, setText] = useState<string>();
  const done = () => {
    const ms = text === undefined ? undefined : readMs(text);
    if (ms !== undefined) onTime(ms);
    setText(undefined);
  };
  return (
    <input
      aria-label={label}
      value={text ?? sayMs(value, true)}
      onChange={(e) => setText(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => e.key === "Enter" && done()}
      className="w-20 rounded border border-soft bg-paper px-1.5 py-0.5 font-mono text-sm"
    />
  );
}
