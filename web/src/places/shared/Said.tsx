import { ask } from "../../base/api/ask";
import { momentOf } from "../../base/format";
import { useQuery } from "@tanstack/react-query";
import { shown } from "../../base/ui/shown";

const lookEvery = 5000; // milliseconds

/** What is said of a request, for its asker. */
export function Said({ token, opening }: { token: string; opening: string }) {
  const list = useQuery({
    ...ask("/api/shared/{token}/comments", { path: { token }, query: { opening } }),
    refetchInterval: lookEvery,
    retry: false,
  });
  if (!list.data || list.data.length === 0) return null;
  return (
    <section aria-labelledby="said" className="mx-auto max-w-4xl bg-paper px-4 pb-4 sm:px-10">
      <h2 id="said" className="border-t-2 border-ink pt-4 text-lg font-bold">
        What was said
      </h2>
      <ol className="mt-2 space-y-3">
        {list.data.map((c, i) => (
          <li key={i}>
            <p className="text-sm">
              <b>{shown(c.by)}</b> <span className="text-soft">{momentOf(c.at)}</span>
            </p>
            <p dir="auto" className="break-words whitespace-pre-wrap">
              {c.body.split("\n").map(shown).join("\n")}
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}
