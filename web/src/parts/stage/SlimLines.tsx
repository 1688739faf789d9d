import { core, type Numbers } from "../../base/core/core";
import type { Row } from "../document/model";

/** Of the steps above, the nearest are seen. */
const toEnd = (list: HTMLElement | null) => {
  void list?.scrollTo(0, list.scrollHeight);
};

/** The other steps while a picture is open, a line each. */
export function SlimLines(props: {
  rows: Row[];
  numbers: Numbers;
  before?: boolean;
  onOpen: (figure: string) => void;
}) {
  return (
    <ol ref={props.before ? toEnd : undefined} className={props.before ? "max-h-16 overflow-y-auto" : ""}>
      {props.rows.map((r) => (
        <li key={r.id}>
          <button
            type="button"
            disabled={r.content.figures.length === 0}
            onClick={() => props.onOpen(r.content.figures[0]?.id ?? "")}
            className="flex w-full gap-3 rounded px-2 py-1 text-left text-soft enabled:hover:bg-desk"
          >
            <span className="w-6 shrink-0 text-right font-bold">{props.numbers.blocks[r.id]}</span>
            <span className="truncate">{core.label(r.content)}</span>
          </button>
        </li>
      ))}
    </ol>
  );
}
