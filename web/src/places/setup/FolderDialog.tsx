import { type ReactNode, useEffect, useState } from "react";
import type { Folder, Group, Person } from "../../base/api/client";
import { Choices } from "../../base/ui/Choices";
import { Button, Field, Panel } from "../../base/ui/controls";
import { FolderChoice } from "../../parts/library/FolderChoice";
import { RuleFields } from "./RuleFields";

/** What is asked for in a dialog, and saved or not. */
function Asked(props: { title: string; onSave: () => void; onCancel: () => void; children: ReactNode }) {
  return (
    <Panel title={props.title} onDone={props.onCancel}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          props.onSave();
        }}
      >
        {props.children}
        <div className="flex justify-end gap-2">
          <Button onClick={props.onCancel}>Cancel</Button>
          <Button look="main" type="submit">
            Save
          </Button>
        </div>
      </form>
    </Panel>
  );
}

export function FolderDialog(props: {
  folder: Partial<Folder>;
  people: Person[];
  groups: Group[];
  onDone: (folder: Partial<Folder> | undefined) => void;
}) {
  const [f, setF] = useState(props.folder);
  useEffect(() => setF((mine) => ({ ...mine, version: props.folder.version })), [props.folder.version]);
  return (
    <Asked
      title={f.id ? "Change the folder" : "Add a folder"}
      onSave={() => props.onDone(f)}
      onCancel={() => props.onDone(undefined)}
    >
      <Field label="Name" value={f.name ?? ""} onChange={(name) => setF({ ...f, name })} autoFocus />
      <div>
        <span className="mb-1 block text-sm text-soft">Lies in</span>
        <FolderChoice label="Lies in" value={f.parent ?? ""} onChange={(parent) => setF({ ...f, parent })} />
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4"
          checked={f.open ?? true}
          onChange={(e) => setF({ ...f, open: e.target.checked })}
        />
        Open to everybody
      </label>
      {!f.open && (
        <>
          <Choices
            label="People who may open it"
            all={props.people}
            chosen={f.accounts ?? []}
            onChange={(accounts) => setF({ ...f, accounts })}
          />
          <Choices
            label="Groups that may open it"
            all={props.groups}
            chosen={f.groups ?? []}
            onChange={(groups) => setF({ ...f, groups })}
          />
          <Field
            label="Whom others ask for what is in it"
            value={f.ask ?? ""}
            onChange={(ask) => setF({ ...f, ask })}
          />
        </>
      )}
      <RuleFields
        label="Before a revision is released"
        inherits
        rule={f.rule}
        people={props.people}
        onChange={(rule) => setF({ ...f, rule })}
      />
    </Asked>
  );
}

export function GroupDialog(props: {
  group: Partial<Group>;
  people: Person[];
  onDone: (group: Partial<Group> | undefined) => void;
}) {
  const [g, setG] = useState(props.group);
  useEffect(() => setG((mine) => ({ ...mine, version: props.group.version })), [props.group.version]);
  return (
    <Asked
      title={g.id ? "Change the group" : "Add a group"}
      onSave={() => props.onDone(g)}
      onCancel={() => props.onDone(undefined)}
    >
      <Field label="Name" value={g.name ?? ""} onChange={(name) => setG({ ...g, name })} autoFocus />
      <Choices
        label="People in it"
        all={props.people}
        chosen={g.accounts ?? []}
        onChange={(accounts) => setG({ ...g, accounts })}
      />
    </Asked>
  );
}
