import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { api, expect, type Folder, type Group, type Person, Problem } from "../../base/api/client";
import { FolderChoice, laidOut, useFolders } from "../../parts/library/FolderChoice";
import { Button, Field, Panel } from "../../base/ui/controls";
import { RuleFields } from "./RuleFields";
import { HouseRule } from "./HouseRule";
import { useHouse } from "../../parts/house/useHouse";
import { Choices } from "../../base/ui/Choices";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";

const box = "rounded border border-line bg-paper p-5 mt-6";

/** Folders and who may open them, groups of people, and how documents are numbered: for administrators. */
export function Folders() {
  const client = useQueryClient();
  const notice = useNotice();
  const folders = useFolders();
  const groups = useQuery({ queryKey: ["groups"], queryFn: () => expect(api.GET("/api/groups")) });
  const people = useQuery({ queryKey: ["people"], queryFn: () => expect(api.GET("/api/people")) });
  const [folder, setFolder] = useState<Partial<Folder>>();
  const [group, setGroup] = useState<Partial<Group>>();
  const attempt = async (work: Promise<unknown>) => {
    try {
      await work;
      return true;
    } catch (e) {
      notice({ text: (e as Error).message });
      if (e instanceof Problem && e.status === 409) await seen();
      return false;
    } finally {
      void client.invalidateQueries({ queryKey: ["folders"] });
      void client.invalidateQueries({ queryKey: ["groups"] });
    }
  };
  /** What others have saved is shown behind the dialog: what was written in it counts as written on that. */
  const seen = async () => {
    const [f, g] = [(await folders.refetch()).data, (await groups.refetch()).data];
    setFolder((mine) => mine && { ...mine, version: f?.find((one) => one.id === mine.id)?.version });
    setGroup((mine) => mine && { ...mine, version: g?.find((one) => one.id === mine.id)?.version });
  };
  const named = (f: Folder) =>
    f.open
      ? "open to everybody"
      : `for ${counted(f.accounts.length, "person", "people")} and ${counted(f.groups.length, "group", "groups")}`;
  return (
    <>
      <section aria-labelledby="folders" className={box}>
        <div className="mb-2 flex items-center gap-3">
          <h2 id="folders" className="flex-1 text-lg font-bold">
            Folders
          </h2>
          <Button look="main" onClick={() => setFolder({ open: true, accounts: [], groups: [] })}>
            Add a folder
          </Button>
        </div>
        <p className="mb-2 max-w-prose text-soft">
          Up to three levels. What lies in a closed folder is shown, found and handed out to its members alone.
        </p>
        <ul className="divide-y divide-line">
          {laidOut(folders.data ?? []).map(({ folder: f, depth }) => (
            <li key={f.id} className="flex items-center gap-3 py-1.5" style={{ paddingLeft: `${depth * 1.5}rem` }}>
              <span className="flex-1">
                <strong>{shown(f.name)}</strong> <span className="text-soft">{named(f)}</span>
              </span>
              <Button small onClick={() => setFolder(f)}>
                Change
              </Button>
              <Button
                small
                onClick={() =>
                  void attempt(expect(api.DELETE("/api/folders/{folder}", { params: { path: { folder: f.id } } })))
                }
              >
                Delete
              </Button>
            </li>
          ))}
          {folders.data?.length === 0 && <li className="text-soft">No folder yet: all documents lie side by side.</li>}
        </ul>
      </section>
      <section aria-labelledby="groups" className={box}>
        <div className="mb-2 flex items-center gap-3">
          <h2 id="groups" className="flex-1 text-lg font-bold">
            Groups
          </h2>
          <Button onClick={() => setGroup({ accounts: [] })}>Add a group</Button>
        </div>
        <ul className="divide-y divide-line">
          {groups.data?.map((g) => (
            <li key={g.id} className="flex items-center gap-3 py-1.5">
              <span className="flex-1">
                <strong>{shown(g.name)}</strong>{" "}
                <span className="text-soft">
                  {g.accounts.map((a) => people.data?.find((p) => p.id === a)?.name ?? "?").join(", ") || "nobody yet"}
                </span>
              </span>
              <Button small onClick={() => setGroup(g)}>
                Change
              </Button>
              <Button
                small
                onClick={() =>
                  void attempt(expect(api.DELETE("/api/groups/{group}", { params: { path: { group: g.id } } })))
                }
              >
                Delete
              </Button>
            </li>
          ))}
          {groups.data?.length === 0 && <li className="text-soft">No group yet.</li>}
        </ul>
      </section>
      <Numbering />
      <HouseRule people={people.data ?? []} />
      {folder && (
        <FolderDialog
          folder={folder}
          people={people.data ?? []}
          groups={groups.data ?? []}
          onDone={async (f) => {
            const { id, version, name = "", open = true, parent, ask, accounts, groups, rule } = f ?? {};
            const body = { version, name, open, parent: parent ?? "", ask: ask ?? "", accounts, groups, rule };
            const done =
              !f ||
              (await attempt(
                id
                  ? expect(api.PUT("/api/folders/{folder}", { params: { path: { folder: id } }, body }))
                  : expect(api.POST("/api/folders", { body })),
              ));
            if (done) setFolder(undefined);
          }}
        />
      )}
      {group && (
        <GroupDialog
          group={group}
          people={people.data ?? []}
          onDone={async (g) => {
            const body = { version: g?.version, name: g?.name ?? "", accounts: g?.accounts ?? [] };
            const done =
              !g ||
              (await attempt(
                g.id
                  ? expect(api.PUT("/api/groups/{group}", { params: { path: { group: g.id } }, body }))
                  : expect(api.POST("/api/groups", { body })),
              ));
            if (done) setGroup(undefined);
          }}
        />
      )}
    </>
  );
}

const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** How documents are numbered. */
function Numbering() {
  const pattern = useHouse("pattern");
  return (
    <section aria-labelledby="numbering" className={box}>
      <h2 id="numbering" className="mb-2 text-lg font-bold">
        Document numbers
      </h2>
      <div className="flex items-end gap-2">
        <Field
          label="Pattern: {kind} for two letters, {year}, and one count such as {nnn}"
          value={pattern.value ?? ""}
          onChange={pattern.set}
        />
        <Button
          why={!pattern.changed && "Nothing was changed."}
          onClick={() => void pattern.save("New numbers follow the pattern. Those that were given stay.")}
        >
          Save
        </Button>
      </div>
    </section>
  );
}

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

function FolderDialog(props: {
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
          className="size-4 accent-action"
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

function GroupDialog(props: {
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
