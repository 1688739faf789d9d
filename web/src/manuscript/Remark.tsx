import type { Finding } from "../api/client";
import { Button } from "../ui/controls";
import { shown } from "../ui/shown";
import type { Settle } from "./settle";

/** What settles a finding by writing. */
const writes: Record<string, string> = {
  "no-words": "Write the words",
  "no-heading": "Write the heading",
  "empty-passage": "Write it",
  "lost-reference": "Go to the words",
  "lost-marker": "Go to the words",
};

/** One finding, with the action that settles it. */
/** Findings that are settled by leading somewhere else. */
const links = ["lost-link", "retired-link"];

export function Remark(props: {
  finding: Finding;
  onWrite?: () => void;
  onLink?: () => void;
  onOpen?: (figure: string) => void;
  settle?: Settle;
}) {
  const { finding, onOpen, settle } = props;
  const must = finding.severity === "must-fix";
  const { figure } = finding;
  return (
    <div className={`border-l-[3px] pl-3 ${must ? "border-mustfix" : "border-look"}`}>
      <p className="font-bold">
        <span className={must ? "text-mustfix" : "text-look"}>{must ? "Must fix" : "Worth a look"}: </span>
        {finding.title}
      </p>
      <p className="text-sm text-soft">{finding.advice}</p>
      {writes[finding.rule] && props.onWrite && (
        <Button look="quiet" className="-ml-3 font-bold" onClick={props.onWrite}>
          {writes[finding.rule]}
        </Button>
      )}
      {finding.to && settle && (
        <Button look="quiet" small className="-ml-2 font-bold" onClick={() => settle.reword([finding])}>
          {finding.from ? `Write “${shown(finding.to)}”` : `Name “${shown(finding.to)}”`}
        </Button>
      )}
      {finding.rule === "small-print" && settle && (
        <Button
          look="quiet"
          small
          className="-ml-2 font-bold"
          onClick={() => {
            if (!settle.crop(finding) && figure) onOpen?.(figure);
          }}
        >
          Crop to what matters
        </Button>
      )}
      {finding.rule === "frames-jump" && settle && (
        <Button look="quiet" small className="-ml-2 font-bold" onClick={settle.even}>
          Same crop for all
        </Button>
      )}
      {finding.rule === "over-cell" && settle && (
        <Button look="quiet" small className="-ml-2 font-bold" onClick={settle.roomier}>
          Write for two steps to a page
        </Button>
      )}
      {links.includes(finding.rule) && props.onLink && (
        <Button look="quiet" className="-ml-3 font-bold" onClick={props.onLink}>
          Choose another
        </Button>
      )}
      {figure && onOpen && (
        <Button look="quiet" className="-ml-3 font-bold" onClick={() => onOpen(figure)}>
          {finding.rule === "no-alt"
            ? "Describe it"
            : finding.rule === "small-print"
              ? "Show a detail"
              : "Open the picture"}
        </Button>
      )}
    </div>
  );
}
