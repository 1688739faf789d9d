import type { Difference } from "../../base/api/client";
import { shown } from "../../base/ui/shown";

const names: Record<string, string> = {
  title: "Title",
  number: "Number",
  owner: "Owner",
  author: "Author",
  approver: "Approver",
  reason: "Reason",
  effective: "Holds from",
  review: "Next review",
  every: "Months between reviews",
  classification: "Classification",
  keywords: "Keywords",
  indexed: "Words in the index",
  notice: "Notice",
  time: "Time",
  style: "House style",
  layout: "Layout",
  counting: "How steps count",
  file: "File",
  critical: "Critical step",
  links: "Links",
  "leads to": "Procedure that it leads to",
  revision: "Revision that it shows",
  level: "Level of the heading",
};

/** Facts of two states, beside each other. */
export function Facts({ facts }: { facts: Difference["facts"] }) {
  return (
    <dl className="grid grid-cols-[11rem_minmax(0,1fr)] gap-x-4 gap-y-1">
      {facts.map((f) => (
        <div key={f.name} className="contents">
          <dt className="text-soft">{names[f.name] ?? f.name}</dt>
          <dd dir="auto">
            {f.before && <del className="bg-mustfix/10 decoration-mustfix decoration-2">{shown(f.before)}</del>}
            {f.before && f.after && " "}
            {f.after && <ins className="bg-action/10 decoration-action decoration-2">{shown(f.after)}</ins>}
          </dd>
        </div>
      ))}
    </dl>
  );
}
