import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { type Finding, type Pages } from "../../base/api/client";

const most = 4; // said of one page at once

/** What is to settle in a document, by the page that it stands on; those of the whole stand with the first. */
export function useRemarks(id: string, pages: Pages | undefined, seq: number, edits: boolean) {
  const found = useQuery({
    ...ask("/api/documents/{document}/looks", { path: { document: id }, query: { all: true } }, seq),
    enabled: edits && pages !== undefined,
  });
  const pageOf = new Map(pages?.places.map((p) => [p.block, p.page]));
  const byPage = new Map<number, Finding[]>();
  for (const f of found.data ?? []) {
    const page = (f.block && pageOf.get(f.block)) || 1;
    byPage.set(page, [...(byPage.get(page) ?? []), f]);
  }
  return byPage;
}

/** What is to settle on a page, each leading to where it is settled. */
export function Remarks({ id, findings }: { id: string; findings: Finding[] | undefined }) {
  if (!findings?.length) return null;
  const sorted = [...findings].sort((a, b) => Number(b.severity === "must-fix") - Number(a.severity === "must-fix"));
  return (
    <ul className="mb-1.5 text-sm print:hidden">
      {sorted.slice(0, most).map((f, i) => {
        const must = f.severity === "must-fix";
        return (
          <li key={i} className={`border-l-[3px] pl-2 ${must ? "border-mustfix" : "border-look"}`}>
            <span className={`font-bold ${must ? "text-mustfix" : "text-look"}`}>
              {must ? "Must fix" : "Worth a look"}:{" "}
            </span>
            <Link to={`/d/${id}/write${f.block ? `?block=${f.block}` : ""}`} className="hover:underline">
              {f.title}
            </Link>
          </li>
        );
      })}
      {sorted.length > most && <li className="pl-2.5 text-soft">and {sorted.length - most} more on this page</li>}
    </ul>
  );
}
