import { Link } from "react-router";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { useStandingAct, useStandings } from "./useStandings";

/** The files that are made again at each release, and whether the last was. */
export function Standings({ edits }: { edits: boolean }) {
  const list = useStandings(edits);
  const notice = useNotice();
  const now = useStandingAct("now");
  const end = useStandingAct("end");
  if (!list.data || list.data.length === 0) return null;
  return (
    <section aria-labelledby="standings" className="mb-8">
      <h2 id="standings" className="mb-2 text-lg font-bold">
        At each release
      </h2>
      <ul className="rounded border border-line bg-paper">
        {list.data.map((s) => (
          <li
            key={s.id}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-4 py-2.5 last:border-0"
          >
            <span className="min-w-0 flex-1 basis-64">
              <Link to={`/d/${s.document}/pages`} className="font-bold break-words text-action hover:underline">
                {shown(s.title)}
              </Link>
              <span className="block text-sm text-soft">
                {s.format}, into {shown(s.place)}
                {s.path && `, ${shown(s.path)}`}.{" "}
                {s.revision ? `Revision ${s.revision} is there.` : s.put ? "Nothing valid is there." : "Being made."}
              </span>
              {s.error && (
                <span role="alert" className="block text-mustfix">
                  Not made. {shown(s.error)}
                </span>
              )}
            </span>
            <Button small onClick={() => now.mutate(s.id)}>
              Make it now
            </Button>
            <Button
              small
              onClick={() =>
                end.mutate(s.id, {
                  onSuccess: () => notice({ text: `“${shown(s.title)}” is taken away from ${shown(s.place)}.` }),
                })
              }
            >
              End
            </Button>
          </li>
        ))}
      </ul>
      {(now.error ?? end.error) && (
        <p role="alert" className="mt-2 text-mustfix">
          {(now.error ?? end.error)?.message}
        </p>
      )}
    </section>
  );
}
