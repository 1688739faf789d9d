import { keyOf, keysOf } from "../typed";

/** Chooses one of a few words, by their names; longer lists have Select. */
export function Few<V extends string>(props: {
  /** What it is called, where no label stands around it. */
  label?: string;
  value: V | undefined;
  options: Partial<Record<V, string>>;
  /** Whether a name is of the language that its value names. */
  languages?: boolean;
  onPick: (value: V) => void;
  className?: string;
}) {
  const {
    label,
    value,
    options,
    languages,
    onPick,
    className = "rounded border border-soft bg-paper px-2 py-1",
  } = props;
  return (
    <select
      aria-label={label}
      title={label}
      value={value ?? ""}
      onChange={(e) => onPick(keyOf(options, e.target.value))}
      className={className}
    >
      {keysOf(options).map((v) => (
        <option key={v} value={v} lang={languages ? v : undefined}>
          {options[v]}
        </option>
      ))}
    </select>
  );
}
