import { Check, ChevronDown } from "lucide-react";
import { Select as Radix } from "radix-ui";
import { shown } from "./shown";

export interface Option<V extends string = string> {
  value: V;
  name: string;
  /** What it is, in some words more. */
  about?: string | undefined;
  /** How deep it lies below others. */
  depth?: number;
}

/** Chooses one of a list that is more than a few words. A value may be "". */
export function Select<V extends string>(props: {
  label: string;
  value: V;
  options: Option<NoInfer<V>>[];
  onChange: (value: V) => void;
  className?: string;
}) {
  const { label, value, options, onChange, className = "" } = props;
  const chosen = options.find((o) => o.value === value);
  const choose = (v: string) => {
    const option = options.find((o) => inner(o.value) === v);
    if (option) onChange(option.value); // a form that is begun again tells of none
  };
  return (
    <Radix.Root value={inner(value)} onValueChange={choose}>
      <Radix.Trigger
        aria-label={label}
        className={`inline-flex min-w-0 items-center gap-1.5 rounded border border-soft bg-paper py-1 pr-1.5 pl-2 text-left text-ink ${className}`}
      >
        <span className={`min-w-0 flex-1 truncate ${chosen ? "" : "text-soft"}`}>
          {chosen ? shown(chosen.name) : "Choose …"}
        </span>
        <ChevronDown size={16} aria-hidden className="shrink-0 text-soft" />
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={4}
          className="z-60 max-h-[min(24rem,var(--radix-select-content-available-height))] max-w-[min(30rem,92vw)] min-w-(--radix-select-trigger-width) overflow-hidden rounded border border-soft bg-paper text-ink"
        >
          <Radix.Viewport className="p-1">
            {options.map((o) => (
              <Radix.Item
                key={o.value}
                value={inner(o.value)}
                textValue={o.name}
                className="flex items-baseline gap-2 rounded-sm py-1.5 pr-3 pl-2 outline-none data-[highlighted]:bg-desk"
              >
                <span aria-hidden className="w-4 shrink-0 self-center">
                  <Radix.ItemIndicator>
                    <Check size={16} />
                  </Radix.ItemIndicator>
                </span>
                <span className="min-w-0" style={{ paddingLeft: `${(o.depth ?? 0) * 1.25}rem` }}>
                  <Radix.ItemText>{shown(o.name)}</Radix.ItemText>
                  {o.about && <span className="block text-sm text-soft">{shown(o.about)}</span>}
                </span>
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** The list knows no empty value: every value stands behind a sign there. */
const inner = (value: string) => `=${value}`;
