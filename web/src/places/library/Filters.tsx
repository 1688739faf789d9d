import { Select } from "../../base/ui/Select";
import { ask } from "../../base/api/ask";
import { placeOf } from "../../base/api/kinds";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { type Account, mayEdit } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { laidOut, useFolders } from "../../parts/library/FolderChoice";
import type { Filter, LibraryState } from "./useLibrary";

const kinds = {
  procedure: "Procedures",
  manual: "Manuals",
  filed: "Filed PDFs",
  report: "Bug reports",
  request: "Support requests",
  answer: "Stock answers",
};
const states = { draft: "Drafts", ready: "Ready", retired: "Retired" };
const dues = { overdue: "Review overdue", soon: "Review due soon" };

/** The folders, and by what else the library can be narrowed. */
export function Filters({ account, library }: { account: Account; library: LibraryState }) {
  const folders = useFolders();
  const edits = mayEdit(account);
  const recent = useQuery({ ...ask("/api/recent"), staleTime: 0 });
  const people = useQuery({ ...ask("/api/people"), enabled: edits });
  const folder = library.value("folder");
  const laid = laidOut(folders.data ?? []);
  return (
    <div className="space-y-5 text-base">
      <nav aria-label="Folders">
        <h2 className="mb-1 font-bold">Folders</h2>
        <ul>
          <Choice label="All documents" on={folder === ""} onPick={() => library.set("folder", "")} />
          {laid.map(({ folder: f, depth }) => (
            <Choice
              key={f.id}
              label={shown(f.name) + (f.open ? "" : " (closed)")}
              depth={depth}
              on={folder === f.id}
              onPick={() => library.set("folder", f.id)}
            />
          ))}
        </ul>
        {laid.length === 0 && account.role === "administrator" && (
          <p className="px-2 text-sm text-soft">
            Folders are made under{" "}
            <Link to="/setup/folders" className="text-action underline">
              Setup
            </Link>
            .
          </p>
        )}
      </nav>
      <div className="space-y-2">
        <h2 className="font-bold">Narrow down</h2>
        <Pick label="Kind" name="kind" options={kinds} all="All kinds" library={library} />
        {edits && <Pick label="State" name="state" options={states} all="All states" library={library} />}
        {edits && <Pick label="Review" name="due" options={dues} all="All reviews" library={library} />}
        {edits && (
          <Pick
            label="Owner"
            name="owner"
            options={Object.fromEntries((people.data ?? []).map((p) => [p.name, p.name]))}
            all="All owners"
            library={library}
          />
        )}
        {library.value("usedIn") && (
          <p className="flex items-center gap-2 text-sm">
            <span className="flex-1">Only what one document leads to</span>
            <button type="button" className="text-action underline" onClick={() => library.set("usedIn", "")}>
              Show all
            </button>
          </p>
        )}
        <label className="flex items-center gap-2 px-0.5">
          <input
            type="checkbox"
            className="size-4"
            checked={library.pinned}
            onChange={(e) => library.set("pinned", e.target.checked ? "true" : "")}
          />
          Pinned by me
        </label>
      </div>
      {(recent.data?.length ?? 0) > 0 && (
        <nav aria-label="Opened last">
          <h2 className="mb-1 font-bold">Opened last</h2>
          <ul>
            {recent.data?.map((d) => (
              <li key={d.id}>
                <Link
                  to={placeOf(d, edits)}
                  className="block truncate rounded px-2 py-0.5 text-action hover:bg-paper"
                  title={d.title}
                >
                  {shown(d.title)}
                </Link>
              </li>
            ))}
          </ul>
        </nav>
      )}
    </div>
  );
}

function Choice(props: { label: string; depth?: number; on: boolean; onPick: () => void }) {
  return (
    <li>
      <button
        type="button"
        aria-current={props.on ? "true" : undefined}
        onClick={props.onPick}
        style={{ paddingLeft: `${0.5 + (props.depth ?? 0)}rem` }}
        className={`w-full truncate rounded py-0.5 pr-2 text-left ${props.on ? "bg-action font-bold text-paper" : "hover:bg-paper"}`}
      >
        {props.label}
      </button>
    </li>
  );
}

function Pick(props: {
  label: string;
  name: Filter;
  options: Record<string, string>;
  all: string;
  library: LibraryState;
}) {
  const { label, name, options, all, library } = props;
  return (
    <Select
      label={label}
      className="w-full"
      value={library.value(name)}
      onChange={(value) => library.set(name, value)}
      options={[{ value: "", name: all }, ...Object.entries(options).map(([value, name]) => ({ value, name }))]}
    />
  );
}
