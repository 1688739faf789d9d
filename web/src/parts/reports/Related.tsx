import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { shown } from "../../base/ui/shown";

const what: Record<string, string> = {
  procedure: "The procedure",
  report: "A bug report",
  request: "A support request",
  answer: "An answer",
};

/** What a document was made of, and what was made of it. */
export function Related({ id }: { id: string }) {
  const list = useQuery(ask("/api/documents/{document}/related", { path: { document: id } }));
  const all = list.data ?? [];
  if (all.length === 0) return null;
  return all.slice(0, 3).map((r) => (
    <span key={r.id}>
      {r.made ? `${what[r.kind] ?? "A document"} was made of it: ` : "Made of "}
      <Link to={`/d/${r.id}/write${!r.made && r.block ? `?block=${r.block}` : ""}`} className="text-action underline">
        {shown(r.title)}
      </Link>
    </span>
  ));
}
