import { useState } from "react";
import type { Content } from "../api/client";
import { core } from "../core/core";

/** The time that a step takes: shown where it is known, written in any usual way. */
export function StepTime({
  content,
  number,
  onChange,
}: {
  content: Content;
  number: string;
  onChange: (seconds: number) => void;
}) {
  const [text, setText] = useState<string>();
  const said = core.sayTime(content.seconds ?? 0);
  const wrong = text !== undefined && core.readTime(text) < 0;
  const done = () => {
    const seconds = text === undefined ? -1 : core.readTime(text);
    if (seconds >= 0 && seconds !== (content.seconds ?? 0)) onChange(seconds);
    setText(undefined);
  };
  return (
    <input
      aria-label={`Time that step ${number} takes`}
      aria-invalid={wrong}
      title={wrong ? "Write a time as 20 s, 1:30 or 2 min" : "How long this step takes, as 20 s, 1:30 or 2 min"}
      value={text ?? said}
      placeholder="time"
      maxLength={20}
      onChange={(e) => setText(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setText(undefined);
      }}
      className={`mt-1 -ml-1 h-6 w-16 rounded px-1 text-xs ${wrong ? "text-mustfix" : "text-soft"} placeholder:opacity-0 hover:placeholder:opacity-100 focus:placeholder:opacity-100`}
    />
  );
}
