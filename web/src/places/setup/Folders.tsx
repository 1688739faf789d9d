import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, expect, type Folder, type Group, Problem } from "../../base/api/client";
import { laidOut, useFolders } from "../../parts/library/FolderChoice";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { SetupPage, Subject } from "../../parts/bar/SetupPage";
import { FolderDialog, GroupDialog } from "./FolderDialog";
import { Numbering } from "./Numbering";

/** Folders and who may open them, groups of people, and how documents are numbered: for administrators. */
export function Folders({ account }: { account: Account }) {
  const notice = useNotice();
  const folders = useFolders();
  const groups = useQuery(ask("/api/groups"));
  const people = useQuery(ask("/api/people"));
  const [folder, setFolder] = useState<Partial<Folder>>();
  const [group, setGroup] = useState<Partial<Group>>();
  const attempt = async (work: Promise<unknown>) => {
    try {
      await work;
      return true;
    } catch (e) {
      notice({ text: reasonOf(e) });
      if (e instanceof Problem && e.status === 409) await seen();
      return false;
    }
  };
  /** What others have saved is shown behind the dialog: what was written in it counts as written on that. */
  const seen = async () => {
    const [f, g] = [(await folders.refetch()).data, (await groups.refetch()).data];
    setFolder((mine) => mine && { ...mine, version: f?.find((one) => one.id === mine.id)?.version });
    setGroup((mine) => mine && { ...mine, version: g?.find((one) => one.id === mine.id)?.version });
  };
  const keepFolder = async (f: Partial<Folder> | undefined) => {
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
  };
  const keepGroup = async (g: Partial<Group> | undefined) => {
    const body = { version: g?.version, name: g?.name ?? "", accounts: g?.accounts ?? [] };
    const done =
      !g ||
      (await attempt(
        g.id
          ? expect(api.PUT("/api/groups/{group}", { params: { path: { group: g.id } }, body }))
          : expect(api.POST("/api/groups", { body })),
      ));
    if (done) setGroup(undefined);
  };
  const named = (f: Folder) =>
    f.open
      ? "open to everybody"
      : `for ${counted(f.accounts.length, "person", "people")} and ${counted(f.groups.length, "group", "groups")}`;
  return (
    <SetupPage account={account} title="Folders and numbers">
      <Subject
        id="folders"
        title="Folders"
        act={
          <Button look="main" onClick={() => setFolder({ open: true, accounts: [], groups: [] })}>
            Add a folder
          </Button>
        }
      >
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
      </Subject>
      <Subject id="groups" title="Groups" act={<Button onClick={() => setGroup({ accounts: [] })}>Add a group</Button>}>
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
      </Subject>
      <Numbering />
      {folder && (
        <FolderDialog
          folder={folder}
          people={people.data ?? []}
          groups={groups.data ?? []}
          onDone={(f) => void keepFolder(f)}
        />
      )}
      {group && <GroupDialog group={group} people={people.data ?? []} onDone={(g) => void keepGroup(g)} />}
    </SetupPage>
  );
}

const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
