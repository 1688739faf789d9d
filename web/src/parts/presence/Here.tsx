import type { Present } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { colourOf } from "./colours";

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0])
    .slice(0, 2)
    .join("");

const most = 4;

/** Who else has the document open. */
export function Here({ present }: { present: Present[] }) {
  const people = [...new Map(present.map((p) => [p.account, p])).values()];
  if (people.length === 0) return null;
  const names = people.map((p) => p.name).join(", ");
  return (
    <span role="status" aria-label={`Also here: ${names}`} title={`Also here: ${names}`} className="flex gap-1">
      {people.slice(0, most).map((p) => (
        <span
          key={p.account}
          aria-hidden
          className="rounded px-1.5 text-sm font-bold text-paper"
          style={{ backgroundColor: colourOf(p.account) }}
        >
          {shown(initials(p.name))}
        </span>
      ))}
      {people.length > most && (
        <span aria-hidden className="text-sm text-soft">
          +{people.length - most}
        </span>
      )}
    </span>
  );
}
