import { ToggleGroup } from "radix-ui";
import { keyOf, keysOf } from "../typed";

/** Chooses one of a few. */
export function Toggles<T extends string>(props: {
  label: string;
  value: T;
  options: Record<T, string>;
  small?: boolean;
  onPick: (value: T) => void;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={props.label}
      value={props.value}
      onValueChange={(value) => value && props.onPick(keyOf(props.options, value))}
      className="flex"
    >
      {keysOf(props.options).map((value) => (
        <ToggleGroup.Item
          key={value}
          value={value}
          className={`border border-line bg-paper first:rounded-l last:rounded-r data-[state=on]:border-action data-[state=on]:bg-action data-[state=on]:text-paper ${props.small ? "px-2 py-0.5 text-sm" : "px-3 py-1.5"}`}
        >
          {props.options[value]}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
