import { useState } from "react";
import { core } from "../../base/core/core";

/** A time that something takes: shown where it is known, written in any usual way. */
export function TimeField({
  label,
  seconds: known = 0,
  hint = "time",
  className = "",
  onChange,
}: {
  label: string;
  seconds: number | undefined;
  hint?: string;
  className?: string;
  onChange: (seconds: number) => void;
}) {
  const [text, setText] = useState<string>();
  const said = core.sayTime(known);
  const wrong = text !== undefined && core.readTime(text) < 0;
  const done = () => {
    const seconds = text === undefined ? -1 : core.readTime(text);
    if (seconds >= 0 && seconds !== known) onChange(seconds);
    setText(undefined);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={wrong}
      title={wrong ? "Write a time as 20 s, 1:30 or 2 min" : "How long it takes, as 20 s, 1:30 or 2 min"}
      value={text ?? said}
      placeholder={hint}
      maxLength={20}
      onChange={(e) => setText(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setText(undefined);
      }}
      className={`h-6 rounded px-1 ${wrong ? "text-mustfix" : "text-soft"} ${className}`}
    />
  );
}
