import { useState } from "react";
import { api, expect, type Group, type Invitation, type Member } from "../../base/api/client";
import { Choices } from "../../base/ui/Choices";
import { Button, Field, Panel } from "../../base/ui/controls";
import { roles } from "../../parts/house/usePeople";
import { keysOf } from "../../base/typed";

/** Invites someone, or changes their account. */
export function PersonDialog(props: {
  person: Partial<Member>;
  groups: Group[];
  attempt: <T>(work: Promise<T>) => Promise<T | undefined>;
  onDone: (invited?: Invitation, name?: string) => void;
}) {
  const { attempt, onDone } = props;
  const [p, setP] = useState(props.person);
  const { id, displayName = "", name = "", email = "", role = "reader", groups = [] } = p;
  const save = async () => {
    if (!id) {
      const invited = await attempt(
        expect(api.POST("/api/accounts", { body: { name, displayName, email, role, groups } })),
      );
      if (invited) onDone(invited, displayName);
      return;
    }
    const work = async () => {
      const body = { displayName, email, role, groups };
      await expect(api.PATCH("/api/accounts/{account}", { params: { path: { account: id } }, body }));
      return true;
    };
    if (await attempt(work())) onDone();
  };
  return (
    <Panel title={id ? "Change the account" : "Invite someone"} onDone={() => onDone()}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <Field label="Name" value={displayName} onChange={(displayName) => setP({ ...p, displayName })} autoFocus />
        {!id && <Field label="Name to sign in with" value={name} onChange={(name) => setP({ ...p, name })} />}
        <Field
          label="E-mail address, for the invitation and for notices"
          type="email"
          value={email}
          onChange={(email) => setP({ ...p, email })}
        />
        <fieldset>
          <legend className="mb-1 text-sm text-soft">Role</legend>
          {keysOf(roles).map((r) => (
            <label key={r} className="flex items-baseline gap-2">
              <input type="radio" name="role" checked={role === r} onChange={() => setP({ ...p, role: r })} />
              <span>
                <b className="font-bold">{r}</b> <span className="text-soft">{roles[r]}</span>
              </span>
            </label>
          ))}
        </fieldset>
        {props.groups.length > 0 && (
          <Choices label="Groups" all={props.groups} chosen={groups} onChange={(groups) => setP({ ...p, groups })} />
        )}
        <div className="flex justify-end gap-2 pt-2">
          <Button onClick={() => onDone()}>Cancel</Button>
          <Button
            look="main"
            type="submit"
            why={
              (!displayName.trim() && "Write the person’s name.") ||
              (!id && !name.trim() && "Write the name to sign in with.")
            }
          >
            {id ? "Save" : "Invite"}
          </Button>
        </div>
      </form>
    </Panel>
  );
}
