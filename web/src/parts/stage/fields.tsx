import { useState } from "react";
import { Few } from "../../base/ui/Few";

export function Pick<V extends string>(props: {
  label: string;
  value: V | undefined;
  options: Partial<Record<V, string>>;
  onPick: (value: V) => void;
}) {
  return <Few {...props} className="rounded border border-soft bg-paper px-1.5 py-0.5 text-sm" />;
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
