import { useState } from "react";

export function Pick(props: {
  label: string;
  value: string | undefined;
  options: Record<string, string>;
  onPick: (value: string) => void;
}) {
  return (
    <select
      aria-label={props.label}
      title={props.label}
      value={props.value ?? ""}
      onChange={(e) => props.onPick(e.target.value)}
      className="rounded border border-soft bg-paper px-1.5 py-0.5 text-sm"
    >
      {Object.entries(props.options).map(([value, name]) => (
        <option key={value} value={value}>
          {name}
        </option>
      ))}
    </select>
  );
}

export function NumberField(props: {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  onChange: (value: number) => void;
}) {
  const [text, setText] = useState<string>();
  return (
    <label className="flex items-center gap-1 text-sm">
      <span className="text-soft">{props.label}</span>
      <input
        type="number"
        value={text ?? props.value}
        min={props.min}
        max={props.max}
        step={props.step ?? 1}
        onChange={(e) => {
          setText(e.target.value);
          const v = e.target.valueAsNumber;
          if (Number.isFinite(v) && v >= props.min && v <= props.max) props.onChange(v);
        }}
        onBlur={() => setText(undefined)}
        className="w-16 rounded border border-soft bg-paper px-1.5 py-0.5"
      />
    </label>
  );
}
