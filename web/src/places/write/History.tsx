import { ask } from "../../base/api/ask";
import { momentOf } from "../../base/format";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, expect } from "../../base/api/client";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { acts } from "../../parts/house/acts";
import { shown } from "../../base/ui/shown";

/** What happened to a document: its revisions, and what was concealed in them afterwards. */
export function History(props: {
  document: string;
  title: string;
  seq: number;
  /** What is typed is on the server: only then can an earlier revision take its place. */
  settled: boolean;
  onDone: () => void;
}) {
  const { document, title, onDone } = props;
  const notice = useNotice();
  const restore = useMutation({
    mutationFn: (revision: number) =>
      expect(
        api.POST("/api/documents/{document}/restored", {
          params: { path: { document } },
          body: { revision, seq: props.seq },
        }),
      ),
    onSuccess: (_, revision) => {
      notice({ text: `The draft is as revision ${revision} was. What is valid for readers has not changed.` });
      onDone();
    },
  });
  const query = useQuery({ ...ask("/api/documents/{document}/history", { path: { document } }), staleTime: 0 });
  return (
    <Panel title={`History of “${shown(title)}”`} onDone={onDone}>
      {query.error && <p className="text-mustfix">{query.error.message}</p>}
      {query.data?.length === 0 && <p className="text-soft">It has not been ready yet, so nothing was handed out.</p>}
      <ol className="max-h-[50vh] divide-y divide-line overflow-y-auto">
        {query.data?.map((h) => (
          <li key={`${h.at} ${h.told}`} className="py-2">
            <p>{shown(h.told)}</p>
            <p className="text-sm text-soft">
              {h.by}, {momentOf(h.at)}
            </p>
            {h.revision && (
              <p className="mt-1 flex flex-wrap items-center gap-x-4 text-sm">
                <Link to={`/d/${document}/pages?revision=${h.revision}`} className="text-action underline">
                  Look at it
                </Link>
                <Link to={`/d/${document}/changes?from=${h.revision}`} className="text-action underline">
                  Compare with the draft
                </Link>
                {h.revision > 1 && (
                  <Link
                    to={`/d/${document}/changes?from=${h.revision - 1}&to=${h.revision}`}
                    className="text-action underline"
                  >
                    What it changed
                  </Link>
                )}
                <Button
                  small
                  disabled={restore.isPending}
                  why={!props.settled && "Your last changes are still being saved."}
                  onClick={() => restore.mutate(h.revision ?? 0)}
                >
                  Make a draft of it
                </Button>
              </p>
            )}
          </li>
        ))}
      </ol>
      <details className="mt-3 border-t border-line pt-2">
        <summary className="text-action">All that was done with it</summary>
        <Acts document={document} />
      </details>
      <div className="mt-5 flex justify-end">
        <Button onClick={onDone}>Close</Button>
      </div>
    </Panel>
  );
}

/** The trail of a document, the last first. */
function Acts({ document }: { document: string }) {
  const trail = useQuery({ ...ask("/api/trail", { query: { document } }), staleTime: 0 });
  return (
    <>
      <ol className="mt-1 max-h-[30vh] overflow-y-auto text-sm">
        {trail.data?.map((l) => (
          <li key={l.id} className="py-0.5">
            <span className="text-soft">{momentOf(l.at)}</span> {shown(l.who || "Raconte")} {acts[l.act]} it
            {l.told && <span className="text-soft">: {shown(l.told)}</span>}
          </li>
        ))}
      </ol>
      <a href={`/api/trail.csv?document=${document}`} download className="text-sm text-action underline">
        Take it as a file (CSV)
      </a>
    </>
  );
}
