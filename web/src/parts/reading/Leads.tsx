import { ExternalLink, Film } from "lucide-react";
import { useContext } from "react";
import { Link, useLocation } from "react-router";
import type { Block, Other } from "../../base/api/client";
import { Source } from "./source";
import { shown } from "../../base/ui/shown";

/** Where one came from to a linked procedure, the last one last. */
export type Trail = { id: string; title: string; step: string; one: boolean }[];

export const useTrail = (): Trail => {
  const { trail } = (useLocation().state ?? {}) as { trail?: Trail };
  return Array.isArray(trail) ? trail : [];
};

const Code = ({ address }: { address: string }) => (
  <img
    src={`/api/code?address=${encodeURIComponent(address)}`}
    alt={`Code of ${address}`}
    className="hidden size-24 print:block"
  />
);

/** What a step leads to: the procedure that it hands over to, web links and films. On paper they stand with codes. */
export function Leads({ step, others, from }: { step: Block; others: Record<string, Other>; from: Trail }) {
  const { document, beside = [] } = step.content;
  const other = document ? others[document] : undefined;
  const { guest } = useContext(Source);
  return (
    <>
      {document && (
        <div className="mb-3 border border-action px-3 py-2">
          <span className="font-bold">Do: </span>
          {!other ? (
            "a procedure that is gone. Tell whoever wrote this."
          ) : other.closed ? (
            `a procedure in a closed folder. Ask ${other.ask || "your administrator"} for it.`
          ) : other.retired ? (
            `${shown(other.title)}, which is retired. Tell whoever wrote this.`
          ) : guest ? (
            <b>
              {other.number ? `${shown(other.number)} ` : ""}
              {shown(other.title)}
            </b>
          ) : (
            <Link to={`/d/${document}?step=1`} state={{ trail: from }} className="font-bold text-action underline">
              {other.number ? `${shown(other.number)} ` : ""}
              {shown(other.title)}
            </Link>
          )}
          {other?.address && !other.closed && !guest && <Code address={other.address} />}
        </div>
      )}
      {beside.map((l, i) => (
        <p key={i} className="mb-2">
          <a
            href={l.address}
            target="_blank"
            rel="noopener noreferrer nofollow"
            className="inline-flex items-center gap-1.5 text-action underline"
          >
            {l.film ? <Film size={17} aria-label="Film" /> : <ExternalLink size={17} aria-hidden />}
            {shown(l.title || l.address)}
          </a>
          <span className="hidden print:inline"> {l.address}</span>
          {!guest && <Code address={l.address} />}
        </p>
      ))}
    </>
  );
}

/** The way back to what handed over to this procedure. */
export function WayBack({ trail }: { trail: Trail }) {
  const last = trail.at(-1);
  if (!last) return null;
  return (
    <p className="border-b border-line bg-[#e3eef0] px-4 py-2 print:hidden">
      <Link
        to={last.one ? `/d/${last.id}?at=${last.step}` : `/d/${last.id}#${last.step}`}
        state={{ trail: trail.slice(0, -1) }}
        className="font-bold text-action underline"
      >
        Back to “{shown(last.title)}”
      </Link>
      {trail.length > 1 && <span className="text-soft"> ({trail.length} procedures deep)</span>}
    </p>
  );
}
