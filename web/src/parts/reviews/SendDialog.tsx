import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Approval, expect } from "../../base/api/client";
import { Choices } from "../../base/ui/Choices";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";

const field = "rounded border border-soft bg-paper px-2 py-1.5";

/** Sends a document to people, to be looked at or to be approved. */
export function SendDialog(props: { document: string; seq: number; approval?: Approval; onDone: () => void }) {
  const { approval, onDone } = props;
  const notice = useNotice();
  const people = useQuery(ask("/api/people"));
  const groups = useQuery({ ...ask("/api/groups"), enabled: !approval });
  const [chosen, setChosen] = useState<string[]>([]);
  const [inGroups, setInGroups] = useState<string[]>([]);
  const [note, setNote] = useState("");
  const [due, setDue] = useState("");
  const [holdsFrom, setHoldsFrom] = useState("");
  const [problem, setProblem] = useState("");
  const send = async () => {
    try {
      await expect(
        api.POST("/api/documents/{document}/reviews", {
          params: { path: { document: props.document } },
          body: {
            approval: Boolean(approval),
            people: chosen,
            groups: inGroups,
            seq: props.seq,
            note,
            ...(due && { due }),
            ...(holdsFrom && { holdsFrom }),
          },
        }),
      );
      notice({ text: "It is sent. You hear of each answer." });
      onDone();
    } catch (e) {
      setProblem(reasonOf(e));
    }
  };
  return (
    <Panel title={approval ? "Ask for approval" : "Ask for review"} onDone={onDone}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        {approval && (
          <p className="text-soft">
            {approval.said}. {approval.rule.ordered && "They are asked in the order in which you choose them."}
          </p>
        )}
        <Choices
          label="People"
          all={approval ? approval.may : (people.data ?? []).filter((p) => p.reviews)}
          chosen={chosen}
          onChange={setChosen}
        />
        {!approval && (groups.data?.length ?? 0) > 0 && (
          <Choices label="Groups" all={groups.data ?? []} chosen={inGroups} onChange={setInGroups} />
        )}
        <label className="block">
          <span className="mb-1 block text-sm text-soft">What they should know or look at</span>
          <textarea
            rows={2}
            maxLength={2000}
            value={note}
            onChange={(e) => setNote(e.target.value)}
            className={`w-full ${field}`}
          />
        </label>
        <div className="flex flex-wrap gap-4">
          <label className="block">
            <span className="mb-1 block text-sm text-soft">Answer by</span>
            <input type="date" value={due} onChange={(e) => setDue(e.target.value)} className={field} />
          </label>
          {approval && (
            <label className="block">
              <span className="mb-1 block text-sm text-soft">Valid from (empty: at once)</span>
              <input type="date" value={holdsFrom} onChange={(e) => setHoldsFrom(e.target.value)} className={field} />
            </label>
          )}
        </div>
        {problem && (
          <p role="alert" className="text-mustfix">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onDone}>Cancel</Button>
          <Button look="main" type="submit" why={chosen.length + inGroups.length === 0 && "Choose somebody."}>
            Send
          </Button>
        </div>
      </form>
    </Panel>
  );
}
