import { useQuery } from "@tanstack/react-query";
import { api, expect } from "../api/client";
import { Button, Panel } from "../ui/controls";
import { shown } from "../ui/shown";

const moment = (iso: string) => new Date(iso).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** What happened to a document: its revisions, and what was concealed in them afterwards. */
export function History({ document, title, onDone }: { document: string; title: string; onDone: () => void }) {
  const query = useQuery({
    queryKey: ["history", document],
    staleTime: 0,
    queryFn: () => expect(api.GET("/api/documents/{document}/history", { params: { path: { document } } })),
  });
  return (
    <Panel title={`History of “${shown(title)}”`} onDone={onDone}>
      {query.error && <p className="text-mustfix">{query.error.message}</p>}
      {query.data?.length === 0 && <p className="text-soft">It has not been ready yet, so nothing was handed out.</p>}
      <ol className="max-h-[50vh] divide-y divide-line overflow-y-auto">
        {query.data?.map((h) => (
          <li key={`${h.at} ${h.told}`} className="py-2">
            <p>{shown(h.told)}</p>
            <p className="text-sm text-soft">
              {h.by}, {moment(h.at)}
            </p>
          </li>
        ))}
      </ol>
      <div className="mt-5 flex justify-end">
        <Button onClick={onDone}>Close</Button>
      </div>
    </Panel>
  );
}
