import { ask } from "../../base/api/ask";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { type Other } from "../../base/api/client";
import { old } from "../../base/api/freshness";
import { useEvents } from "../../base/api/events";
import { core, type Numbers } from "../../base/core/core";
import { format } from "../../base/api/format";
import type { Node } from "./WordsView";
import type { RefersTo } from "./refer";
import type { Draft } from "../document/draft";
import type { Row } from "../document/model";

const referred = new WeakMap<object, [string, string][]>();

/** What words refer to, as pairs of kind and id. */
function refersOf(words: Row["content"]["words"]): [string, string][] {
  const kept = referred.get(words);
  if (kept) return kept;
  const out: [string, string][] = [];
  const walk = (n: Node) => {
    if (n.type === "reference" && n.attrs?.to) out.push([n.attrs.kind ?? "", n.attrs.to]);
    n.content?.forEach(walk);
  };
  walk(words);
  referred.set(words, out);
  return out;
}

/** What a document leads to, and what its references read as. */
export function useAround(id: string, draft: Draft, rows: Row[], numbers: Numbers) {
  const client = useQueryClient();
  const refers = rows.flatMap((r) => refersOf(r.content.words));
  const documents = [
    ...new Set([
      ...rows.flatMap((r) => (r.content.document ? [r.content.document] : [])),
      ...refers.flatMap(([kind, to]) => (kind === "document" ? [to] : [])),
    ]),
  ].sort();
  const query = useQuery({
    ...ask("/api/documents/{document}/others", { path: { document: id }, query: { also: documents.slice(0, 200) } }),
    enabled: documents.length > 0,
    staleTime: 0,
    placeholderData: keepPreviousData,
  });
  useEvents({
    document: (e) => documents.includes(e.document) && old(client, ["/api/documents/{document}/others"], id),
  });
  const known = documents.length === 0;
  const others = useMemo<Record<string, Other> | undefined>(
    () => (known ? {} : query.isPlaceholderData ? undefined : query.data),
    [known, query.data, query.isPlaceholderData],
  );
  const shown = query.data;
  const said = refers.map(([, to]) => to).join();
  const names = useMemo(() => {
    if (said === "") return {};
    const titles = Object.fromEntries(Object.values(shown ?? {}).map((o) => [o.id, saidOf(o)]));
    const blocks = draft.blocks().map((r) => ({ id: r.id, ...r.content }));
    return core.names({ format, id, kind: draft.kind, facts: draft.facts, blocks }, titles);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- numbers: made anew whenever something counts otherwise
  }, [id, draft, said, shown, numbers]);
  return { others, shown: shown ?? {}, names };
}

/** Another document in one line. */
export const saidOf = (o: Other) => (o.closed ? "A closed document" : o.number ? `${o.number} ${o.title}` : o.title);

/** What the words of a document can refer to. */
export function targetsOf(id: string, draft: Draft, numbers: Numbers): RefersTo[] {
  const rows = draft.blocks();
  const blocks = rows.map((r) => ({ id: r.id, ...r.content }));
  const names = core.names({ format, id, kind: draft.kind, facts: draft.facts, blocks }, {});
  return rows.flatMap<RefersTo>((r) => {
    const said = core.label(r.content);
    const { type } = r.content;
    const own: RefersTo[] =
      numbers.blocks[r.id] && type !== "passage"
        ? [{ kind: type === "step" ? "step" : "section", to: r.id, name: names[r.id] ?? "", said }]
        : [];
    return [
      ...own,
      ...r.content.figures.flatMap<RefersTo>((f) => [
        { kind: "figure", to: f.id, name: names[f.id] ?? "", said },
        ...f.marks
          .filter((m) => names[m.id] && !["concealment", "patch", "pointer"].includes(m.kind))
          .map<RefersTo>((m) => ({ kind: "mark", to: m.id, name: names[m.id] ?? "", said: m.text || said })),
      ]),
    ];
  });
}
