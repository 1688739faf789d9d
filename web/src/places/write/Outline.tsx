import { memo } from "react";
import type { Finding, Other } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import type { Row } from "../../parts/document/model";
import { saidOf } from "../../parts/words/useAround";

function counted(rows: Row[], numbers: Numbers) {
  const chapters = rows.filter((r) => r.content.type === "chapter").length;
  if (chapters > 0) return chapters === 1 ? "1 chapter" : `${chapters} chapters`;
  return numbers.steps === 1 ? "1 step" : `${numbers.steps} steps`;
}

/** A block in a line; drawn anew only when it reads otherwise, since there may be hundreds of them at each key. */
const Line = memo(function Line(props: {
  block: string;
  type: Row["content"]["type"];
  number: string | undefined;
  said: string;
  bad: boolean;
  onGo: (block: string) => void;
}) {
  const section = props.type === "section" || props.type === "chapter";
  return (
    <li>
      <button
        type="button"
        onClick={() => props.onGo(props.block)}
        className={`flex w-full gap-2 rounded px-2 py-1 text-left text-sm hover:bg-paper ${section ? "mt-1.5" : ""}`}
      >
        <span className={`w-6 shrink-0 font-bold ${section ? "text-left text-action" : "text-right"}`}>
          {props.number}
        </span>
        <span
          className={`line-clamp-2 ${section ? "font-bold" : ""} ${props.type === "passage" ? "text-soft" : ""} ${props.bad ? "text-mustfix" : ""}`}
        >
          {props.said}
        </span>
      </button>
    </li>
  );
});

/** The document in short: a line for each block. */
export function Outline(props: {
  rows: Row[];
  numbers: Numbers;
  findings: Finding[];
  must: number;
  others: Record<string, Other>;
  onFindings: () => void;
  onGo: (block: string) => void;
}) {
  const { rows, numbers, findings, must, others } = props;
  const said = (r: Row) => {
    const other = others[r.content.document ?? ""];
    if (r.content.asks) return core.questions()[r.content.asks]?.said ?? "";
    return other && (r.content.type === "chapter" || core.empty(r.content.words))
      ? saidOf(other)
      : core.label(r.content);
  };
  const bad = new Set(findings.filter((f) => f.severity === "must-fix").map((f) => f.block));
  return (
    <>
      <nav aria-label="Steps" className="min-h-24 flex-1 overflow-y-auto py-3 pr-2 pl-3">
        <h2 className="px-2 pb-1 font-bold">
          Outline <span className="text-sm font-normal text-soft">{counted(rows, numbers)}</span>
        </h2>
        <ol>
          {rows.map((r) => (
            <Line
              key={r.id}
              block={r.id}
              type={r.content.type}
              number={numbers.blocks[r.id]}
              said={said(r)}
              bad={bad.has(r.id)}
              onGo={props.onGo}
            />
          ))}
        </ol>
      </nav>
      <button
        type="button"
        onClick={props.onFindings}
        className="mx-3 my-1.5 rounded px-2 py-1 text-left text-sm text-soft hover:bg-paper hover:text-ink"
      >
        {must === 0 ? "Nothing must be fixed" : must === 1 ? "1 thing must be fixed" : `${must} things must be fixed`}
        {findings.length > must && `, ${findings.length - must} worth a look`}
      </button>
    </>
  );
}
