import { useState } from "react";
import { api, expect, type Member } from "../../base/api/client";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { Select } from "../../base/ui/Select";
import { shown } from "../../base/ui/shown";

/** Makes another the owner of all that someone answers for. */
export function HandOver(props: {
  from: Member;
  people: Member[];
  attempt: <T>(work: Promise<T>) => Promise<T | undefined>;
  onDone: () => void;
}) {
  const { from, people, attempt, onDone } = props;
  const notice = useNotice();
  const [to, setTo] = useState("");
  const give = async () => {
    const done = await attempt(
      expect(api.PUT("/api/accounts/{account}/documents", { params: { path: { account: from.id } }, body: { to } })),
    );
    if (!done) return;
    notice({ text: `${done.documents === 1 ? "1 document has" : `${done.documents} documents have`} a new owner.` });
    onDone();
  };
  return (
    <Panel
      title={`${shown(from.displayName)} answers for ${from.owns === 1 ? "1 document" : `${from.owns} documents`}`}
      onDone={onDone}
    >
      <label className="block">
        <span className="mb-1 block text-sm text-soft">Who answers for them from now on</span>
        <Select
          label="Who answers for them from now on"
          className="w-full"
          value={to}
          onChange={setTo}
          options={people.map((p) => ({ value: p.id, name: p.displayName }))}
        />
      </label>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onDone}>Leave them</Button>
        <Button look="main" why={!to && "Choose somebody."} onClick={() => void give()}>
          Give them over
        </Button>
      </div>
    </Panel>
  );
}
