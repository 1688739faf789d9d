import type { Finding } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import type { Settle } from "../../parts/document/settle";

/** What settles a finding by writing. */
const writes: Record<string, string> = {
  "no-words": "Write the words",
  "no-heading": "Write the heading",
  "empty-passage": "Write it",
  "lost-reference": "Go to the words",
  "lost-marker": "Go to the words",
};

/** Findings that are settled by leading somewhere else. */
const links = ["lost-link", "retired-link"];

/** What the open picture is for. */
const opens: Record<string, string> = { "no-alt": "Describe it", "small-print": "Show a detail" };

type Acts = {
  onWrite?: () => void;
  onLink?: () => void;
  onOpen?: (figure: string) => void;
  settle?: Settle;
};

/** What settles a finding: each action with what it is called. */
function actsOf(finding: Finding, { onWrite, onLink, onOpen, settle }: Acts): [string, () => void][] {
  const { rule, figure, from, to } = finding;
  const acts: [string, (() => void) | false | undefined][] = [
    [writes[rule] ?? "", writes[rule] !== undefined && onWrite],
    [`${from ? "Write" : "Name"} “${shown(to ?? "")}”`, to && settle ? () => settle.reword([finding]) : undefined],
    [
      "Crop to what matters",
      rule === "small-print" && settle && (() => !settle.crop(finding) && figure && onOpen?.(figure)),
    ],
    ["Same crop for all", rule === "frames-jump" && settle?.even],
    ["Write for two steps to a page", rule === "over-cell" && settle?.roomier],
    ["Choose another", links.includes(rule) && onLink],
    [opens[rule] ?? "Open the picture", figure && onOpen ? () => onOpen(figure) : undefined],
  ];
  return acts.flatMap(([label, run]) => (run ? [[label, run]] : []));
}

/** One finding, with the actions that settle it. */
export function Remark(props: { finding: Finding } & Acts) {
  const { finding } = props;
  const must = finding.severity === "must-fix";
  return (
    <div className={`border-l-[3px] pl-3 ${must ? "border-mustfix" : "border-look"}`}>
      <p className="font-bold">
        <span className={must ? "text-mustfix" : "text-look"}>{must ? "Must fix" : "Worth a look"}: </span>
        {finding.title}
      </p>
      <p className="text-sm text-soft">{finding.advice}</p>
      <div className="flex flex-col items-start">
        {actsOf(finding, props).map(([label, run]) => (
          <Button key={label} look="quiet" small className="-ml-2 font-bold" onClick={run}>
            {label}
          </Button>
        ))}
      </div>
    </div>
  );
}
