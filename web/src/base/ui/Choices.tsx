import { shown } from "./shown";

/** Several of a list, each with a box to tick. */
export function Choices(props: {
  label: string;
  all: { id: string; name: string }[];
  chosen: string[];
  onChange: (ids: string[]) => void;
}) {
  return (
    <fieldset>
      <legend className="text-sm text-soft">{props.label}</legend>
      <div className="max-h-36 overflow-y-auto rounded border border-line px-2 py-1">
        {props.all.map((p) => (
          <label key={p.id} className="flex min-h-7 items-center gap-2">
            <input
              type="checkbox"
              className="size-4"
              checked={props.chosen.includes(p.id)}
              onChange={(e) =>
                props.onChange(e.target.checked ? [...props.chosen, p.id] : props.chosen.filter((id) => id !== p.id))
              }
            />
            {shown(p.name)}
          </label>
        ))}
        {props.all.length === 0 && <span className="text-soft">None yet</span>}
      </div>
    </fieldset>
  );
}
