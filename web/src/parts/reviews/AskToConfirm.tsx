import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect } from "../../base/api/client";
import { Choices } from "../../base/ui/Choices";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { sayDay } from "../../base/format";

/** Asks people to confirm that they have read and understood the valid revision, and tells who has. */
export function AskToConfirm({ document, onDone }: { document: string; onDone: () => void }) {
  const notice = useNotice();
  const path = { params: { path: { document } } };
  const people = useQuery(ask("/api/people"));
  const groups = useQuery(ask("/api/groups"));
  const asked = useQuery({ ...ask("/api/documents/{document}/confirmations", path.params), staleTime: 0 });
  const [chosen, setChosen] = useState<string[]>([]);
  const [inGroups, setInGroups] = useState<string[]>([]);
  const [due, setDue] = useState("");
  const [again, setAgain] = useState(false);
  const attempt = async (work: Promise<unknown>, text: string) => {
    try {
      await work;
      notice({ text });
      setChosen([]);
      setInGroups([]);
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const open = asked.data?.filter((c) => !c.confirmed) ?? [];
  return (
    <Panel title="Read and understood" wide onDone={onDone}>
      <div className="grid max-h-[62vh] gap-6 overflow-y-auto sm:grid-cols-2">
        <section aria-label="Who is asked">
          <h3 className="mb-1 font-bold">
            {asked.data?.length
              ? `${asked.data.length - open.length} of ${asked.data.length} have confirmed`
              : "Nobody is asked yet"}
          </h3>
          <ul className="divide-y divide-line">
            {asked.data?.map((c) => (
              <li key={c.account} className="flex items-baseline gap-2 py-1">
                <span className="flex-1">
                  {shown(c.name)}
                  <span className="block text-sm text-soft">
                    {c.confirmed && c.at
                      ? `confirmed revision ${c.revision} on ${sayDay(c.at)}`
                      : c.due
                        ? `not yet, by ${sayDay(c.due)}`
                        : "not yet"}
                  </span>
                </span>
                <Button
                  small
                  look="quiet"
                  aria-label={`Ask ${c.name} no longer`}
                  onClick={() =>
                    void attempt(
                      expect(
                        api.DELETE("/api/documents/{document}/confirmations/{account}", {
                          params: { path: { document, account: c.account } },
                        }),
                      ),
                      `${shown(c.name)} is not asked any more.`,
                    )
                  }
                >
                  Ask no longer
                </Button>
              </li>
            ))}
          </ul>
          {(asked.data?.length ?? 0) > 0 && (
            <a href={`/api/confirmations.csv?document=${document}`} download className="text-action underline">
              Take the list as a file (CSV)
            </a>
          )}
        </section>
        <form
          className="space-y-3"
          onSubmit={(e) => {
            e.preventDefault();
            void attempt(
              expect(
                api.POST("/api/documents/{document}/confirmations", {
                  ...path,
                  body: { people: chosen, groups: inGroups, again, ...(due && { due }) },
                }),
              ),
              "They are asked.",
            );
          }}
        >
          <h3 className="font-bold">Ask more people</h3>
          <Choices label="People" all={people.data ?? []} chosen={chosen} onChange={setChosen} />
          {(groups.data?.length ?? 0) > 0 && (
            <Choices label="Groups" all={groups.data ?? []} chosen={inGroups} onChange={setInGroups} />
          )}
          <label className="block">
            <span className="mb-1 block text-sm text-soft">By</span>
            <input
              type="date"
              value={due}
              onChange={(e) => setDue(e.target.value)}
              className="rounded border border-soft bg-paper px-2 py-1.5"
            />
          </label>
          <label className="flex items-baseline gap-2">
            <input
              type="checkbox"
              checked={again}
              onChange={(e) => setAgain(e.target.checked)}
              className="translate-y-0.5"
            />
            Ask those of them again who confirmed an earlier revision
          </label>
          <Button look="main" type="submit" why={chosen.length + inGroups.length === 0 && "Choose somebody."}>
            Ask them
          </Button>
        </form>
      </div>
      <div className="mt-4 flex justify-end">
        <Button onClick={onDone}>Close</Button>
      </div>
    </Panel>
  );
}
