import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Field, Panel } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { checkTitle } from "./checkTitle";
import { FolderChoice } from "../../parts/library/FolderChoice";

export type Beginning = { title: string; kind: "procedure" | "manual"; folder: string; start: string };

/** Asks what to write: its title, and, where the house has any, what it starts from and where it lies. */
export function Begin({
  kind,
  folder: initial,
  onDone,
}: {
  kind: "procedure" | "manual";
  folder: string;
  onDone: (b: Beginning | undefined) => void;
}) {
  const [title, setTitle] = useState("");
  const [folder, setFolder] = useState(initial);
  const [start, setStart] = useState("");
  const [tried, setTried] = useState(false);
  const starts = useQuery(ask("/api/search", { query: { starts: true, kind } }));
  const problem = checkTitle(title.trim());
  return (
    <Panel title={kind === "manual" ? "Write a manual" : "Write a procedure"} onDone={() => onDone(undefined)}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          setTried(true);
          if (!problem) onDone({ title: title.trim(), kind, folder, start });
        }}
      >
        <Field label="Title: what will the reader be able to do?" value={title} onChange={setTitle} autoFocus />
        {tried && problem && <p className="text-mustfix">{problem}</p>}
        {(starts.data?.length ?? 0) > 0 && (
          <label className="block">
            <span className="mb-1 block text-sm text-soft">Start from</span>
            <select
              value={start}
              onChange={(e) => setStart(e.target.value)}
              className="w-full rounded border border-soft bg-paper px-2 py-1.5"
            >
              <option value="">An empty page</option>
              {starts.data?.map((h) => (
                <option key={h.document.id} value={h.document.id}>
                  {shown(h.document.title)}
                </option>
              ))}
            </select>
          </label>
        )}
        <div>
          <span className="mb-1 block text-sm text-soft">Folder</span>
          <FolderChoice value={folder} onChange={setFolder} />
        </div>
        <div className="flex justify-end gap-2 pt-2">
          <Button onClick={() => onDone(undefined)}>Cancel</Button>
          <Button look="main" type="submit">
            Create
          </Button>
        </div>
      </form>
    </Panel>
  );
}
