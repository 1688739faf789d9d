import type { WholeDocument } from "../../base/api/client";
import { shown } from "../../base/ui/shown";

/** A filed PDF, page by page, for whoever has a link. */
export function SharedFile({ token, opening, data }: { token: string; opening: string; data: WholeDocument }) {
  const pages = data.facts.file?.pages ?? 0;
  return (
    <main className="mx-auto max-w-4xl px-4 py-6">
      <h1 className="mb-4 text-2xl font-bold">{shown(data.summary.title)}</h1>
      <ol className="space-y-4">
        {Array.from({ length: pages }, (_, i) => (
          <li key={i}>
            <img
              src={`/api/shared/${token}/file/${i + 1}?opening=${opening}`}
              alt={`Page ${i + 1} of ${pages}`}
              loading="lazy"
              width={1131}
              height={1600}
              className="h-auto w-full border border-line bg-paper"
            />
          </li>
        ))}
      </ol>
    </main>
  );
}
