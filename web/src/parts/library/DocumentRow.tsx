import { lately } from "../../base/format";
import { BookOpen, Ellipsis, FileText, Pin } from "lucide-react";
import { Link } from "react-router";
import { figureAddress, type Hit, type Summary } from "../../base/api/client";
import { Actions, Button, type Choice } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { placeOf, stateSaid } from "../../base/api/kinds";

const kinds: Record<string, string> = {
  procedure: "Procedure",
  manual: "Manual",
  filed: "Filed PDF",
  report: "Bug report",
  request: "Support request",
  answer: "Stock answer",
};

const stateOf = (d: Summary) => stateSaid(d.kind, d.state, d.state === "draft" ? 0 : d.revision, d.said);

/** A document in the library, or a step of one that was found. */
export function DocumentRow(props: {
  hit: Hit;
  edits: boolean;
  choices?: Choice[];
  act?: Choice;
  onPin?: (pinned: boolean) => void;
}) {
  const { hit, edits, onPin, act } = props;
  const d = hit.document;
  const to = addressOf(hit, edits);
  const Kind = d.kind === "manual" ? BookOpen : FileText;
  const picture =
    d.kind === "filed"
      ? `/api/documents/${d.id}/file/${hit.page ?? 1}`
      : hit.figure
        ? figureAddress(d.id, hit.figure, 200, Date.parse(d.changedAt))
        : undefined;
  return (
    <li className="grid grid-cols-[5.5rem_minmax(0,1fr)_auto] gap-x-3 border-b border-line px-3 py-2.5 last:border-0 hover:bg-desk/40">
      <Link to={to} tabIndex={-1} aria-hidden className="h-14 overflow-hidden border border-line bg-desk">
        {picture ? (
          <img src={picture} alt="" loading="lazy" className="size-full object-cover object-left-top" />
        ) : (
          <Kind size={22} aria-hidden className="m-auto h-full text-soft" />
        )}
      </Link>
      <div className="min-w-0">
        <Link className="font-bold text-action hover:underline" to={to}>
          {d.number && <span className="text-soft">{shown(d.number)} </span>}
          {shown(d.title)}
        </Link>
        {hit.said?.some((p) => p.hit) || hit.pictured ? (
          <p className="text-base">
            {hit.page && <span className="text-soft">Page {hit.page}: </span>}
            {hit.said && <Marked parts={hit.said} />}
            {hit.pictured && (
              <span className="text-soft">
                {" "}
                In the picture: <Marked parts={hit.pictured} />
              </span>
            )}
          </p>
        ) : null}
        <p className="text-sm text-soft">
          {kinds[d.kind]}
          {d.kind === "answer"
            ? `, used ${d.uses === 1 ? "once" : `${d.uses ?? 0} times`}`
            : stateOf(d) && `, ${stateOf(d)}`}
          {d.kind === "procedure" && `, ${d.steps === 1 ? "1 step" : `${d.steps} steps`}`}, {d.changedBy},{" "}
          {lately(d.changedAt)}
          {d.due && (
            <span className={d.due === "overdue" ? "text-mustfix" : "text-look"}>
              , review {d.due === "overdue" ? "was due" : "due by"} {d.review}
            </span>
          )}
        </p>
      </div>
      <div className="flex items-start">
        {onPin && (
          <button
            type="button"
            aria-label={`Keep ${d.title} at hand`}
            aria-pressed={hit.pinned}
            title={hit.pinned ? "Pinned: it stands first" : "Pin it, so that it stands first"}
            onClick={() => onPin(!hit.pinned)}
            className={`rounded p-1.5 hover:bg-desk ${hit.pinned ? "text-action" : "text-soft"}`}
          >
            <Pin size={17} aria-hidden fill={hit.pinned ? "currentColor" : "none"} />
          </button>
        )}
        {act && act !== "line" && (
          <Button aria-label={`${act.label} ${d.title}`} onClick={act.run}>
            {act.label}
          </Button>
        )}
        {edits && props.choices && (
          <Actions label={`Actions for ${d.title}`} choices={props.choices}>
            <Ellipsis aria-hidden size={18} />
          </Actions>
        )}
      </div>
    </li>
  );
}

function addressOf(hit: Hit, edits: boolean) {
  const at = placeOf(hit.document, edits);
  if (hit.page) return `${at}?page=${hit.page}`;
  if (hit.block) return edits ? `${at}?block=${hit.block}` : `${at}#${hit.block}`;
  return at;
}

function Marked({ parts }: { parts: NonNullable<Hit["said"]> }) {
  return parts.map((p, i) =>
    p.hit ? (
      <mark key={i} className="bg-call/50 text-ink">
        {shown(p.text)}
      </mark>
    ) : (
      <span key={i}>{shown(p.text)}</span>
    ),
  );
}
