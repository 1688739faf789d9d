import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { dayOf, dayOfYear } from "../../base/format";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, expect } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { parsed } from "../../base/typed";

/** Which steps someone has had on their screen: kept for the visit, of one revision. */
export function useSeen(document: string, revision: number, steps: string[]) {
  const key = `raconte-seen ${document} ${revision}`;
  const [seen, setSeen] = useState<Set<string>>(() => read(key));
  useEffect(() => {
    const watch = new IntersectionObserver(
      (entries) => {
        const now = entries.filter((e) => e.isIntersecting).map((e) => e.target.id);
        if (now.length > 0)
          setSeen((was) => {
            const all = new Set([...was, ...now]);
            sessionStorage.setItem(key, JSON.stringify([...all]));
            return all;
          });
      },
      { threshold: 0.1 },
    );
    for (const id of steps) {
      const element = window.document.getElementById(id);
      if (element) watch.observe(element);
    }
    return () => watch.disconnect();
  }, [key, steps]);
  return steps.filter((s) => !seen.has(s)).length;
}

function read(key: string): Set<string> {
  try {
    return new Set(parsed<string[]>(sessionStorage.getItem(key) ?? "[]"));
  } catch {
    return new Set();
  }
}

/**
 * Where someone is asked to: confirms that they have read and understood the revision on the page, once they have seen
 * all of it.
 */
export function Confirm({ document, revision, steps }: { document: string; revision: number; steps: string[] }) {
  const asked = useQuery(ask("/api/confirmations"));
  const mine = asked.data?.find((c) => c.document === document);
  const left = useSeen(document, revision, steps);
  const confirm = useMutation({
    ...beside,
    mutationFn: () =>
      expect(
        api.PUT("/api/documents/{document}/confirmations", { params: { path: { document } }, body: { revision } }),
      ),
  });
  if (!mine) return null;
  return (
    <section aria-label="Read and understood" className="mt-8 border-t-2 border-ink pt-4 print:hidden">
      {mine.confirmed ? (
        <p role="status">
          You have confirmed revision {mine.revision}
          {mine.at && ` on ${dayOf(mine.at)}`}.
        </p>
      ) : (
        <>
          <p>
            You are asked to confirm that you have read and understood this document
            {mine.due && ` by ${dayOfYear(mine.due)}`}.
          </p>
          <div className="mt-2 flex flex-wrap items-center gap-3">
            <Button
              look="main"
              disabled={confirm.isPending}
              why={left > 0 && "Look at all of it first."}
              onClick={() => confirm.mutate()}
            >
              I have read and understood it
            </Button>
            {left > 0 && (
              <span className="text-soft">
                {left === 1 ? "1 step was not on your screen yet." : `${left} steps were not on your screen yet.`}
              </span>
            )}
          </div>
          {confirm.error && (
            <p role="alert" className="mt-2 text-mustfix">
              {confirm.error.message}
            </p>
          )}
        </>
      )}
    </section>
  );
}
