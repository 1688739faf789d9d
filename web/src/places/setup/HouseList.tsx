import { reasonOf } from "../../base/reason";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { expect, type Answer, conflictOf } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { Subject } from "../../parts/bar/SetupPage";
import { useEdited } from "../../base/ui/useEdited";

export type Lines = { version: number; lines: string[] };

/** What the API answers to a request for a list, or to its replacing, as lines; on a conflict someone else's. */
type Lined = Answer<Lines> & { theirs?: Lines };

/** Makes answers about a list into lines. */
export const linesOf =
  <Kept,>(of: (kept: Kept) => Lines) =>
  (answer: Answer<Kept>): Lined => {
    const theirs = conflictOf(answer);
    return {
      response: answer.response,
      error: answer.error,
      ...(answer.data && { data: of(answer.data) }),
      ...(theirs && { theirs: of(theirs) }),
    };
  };

/** A list of the house's own, one thing on each line. Where someone else changed it meanwhile, both are shown. */
export function HouseList(props: {
  name: string;
  title: string;
  children: ReactNode;
  label: string;
  load: () => Promise<Lined>;
  save: (lines: Lines) => Promise<Lined>;
}) {
  const client = useQueryClient();
  const notice = useNotice();
  const key = [props.name];
  const query = useQuery({ queryKey: key, queryFn: async () => expect(props.load()) });
  const edited = useEdited(
    props.name,
    query.data && { version: query.data.version, value: query.data.lines.join("\n") },
  );
  const [theirs, setTheirs] = useState<string[]>();
  const shown = edited.value ?? "";
  const save = async () => {
    try {
      const { theirs, ...answer } = await props.save({ version: edited.version, lines: shown.split("\n") });
      if (theirs) {
        client.setQueryData(key, theirs);
        notice({
          text: "Someone else changed the list meanwhile. What you wrote is still here: compare, then save it.",
        });
        setTheirs(theirs.lines);
        edited.seen(theirs.version);
        return;
      }
      const kept = await expect(Promise.resolve(answer));
      client.setQueryData(key, kept);
      edited.done();
      setTheirs(undefined);
      notice({
        text: kept.lines.length === 1 ? "1 word is on the list." : `${kept.lines.length} words are on the list.`,
      });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  return (
    <Subject id={props.name} title={props.title}>
      <p className="mt-1 mb-3 max-w-prose text-soft">{props.children}</p>
      <label className="block">
        <span className="mb-1 block text-sm text-soft">{props.label}</span>
        <textarea
          rows={5}
          value={shown}
          disabled={!query.data}
          onChange={(e) => edited.set(e.target.value)}
          className="w-full rounded border border-soft bg-paper px-3 py-2"
        />
      </label>
      {query.error && (
        <p role="alert" className="mt-2 text-mustfix">
          The list can’t be read now, so it can’t be changed: {query.error.message}
        </p>
      )}
      {theirs && (
        <p role="alert" className="mt-2 border-l-[3px] border-mustfix pl-3">
          The list of someone else, which is saved now: {theirs.length > 0 ? theirs.join(", ") : "no words"}.
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          look="main"
          disabled={!query.data}
          why={!edited.changed && "Nothing was changed."}
          onClick={() => void save()}
        >
          Save the list
        </Button>
        {edited.changed && (
          <Button
            onClick={() => {
              edited.done();
              setTheirs(undefined);
            }}
          >
            Back to the saved list
          </Button>
        )}
      </div>
    </Subject>
  );
}
