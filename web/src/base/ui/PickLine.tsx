import type { ReactNode } from "react";
import { Panel } from "./controls";

/** A line one may choose: what tells it from the others, and how it looks. */
export interface Line {
  key: string;
  look: ReactNode;
  choose: () => void;
}

/** Chooses one of a few lines by typing some letters: Enter takes the first. */
export function PickLine(props: {
  title: string;
  field: string;
  hint: string;
  list: string;
  text: string;
  onText: (text: string) => void;
  lines: Line[];
  none: string | false; // what is said where no line is there
  onCancel: () => void;
}) {
  return (
    <Panel title={props.title} onDone={props.onCancel}>
      <input
        autoFocus
        aria-label={props.field}
        placeholder={props.hint}
        className="w-full rounded border border-soft bg-paper px-3 py-2 placeholder:text-soft"
        value={props.text}
        onChange={(e) => props.onText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && props.lines[0]) {
            e.preventDefault();
            props.lines[0].choose();
          }
        }}
      />
      <ul className="mt-2 max-h-72 overflow-y-auto" aria-label={props.list}>
        {props.lines.map((line) => (
          <li key={line.key}>
            <button
              type="button"
              onClick={line.choose}
              className="flex w-full gap-3 rounded px-2 py-1.5 text-left hover:bg-desk"
            >
              {line.look}
            </button>
          </li>
        ))}
        {props.none && props.lines.length === 0 && <li className="px-2 py-1.5 text-soft">{props.none}</li>}
      </ul>
    </Panel>
  );
}
