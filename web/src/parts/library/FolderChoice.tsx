import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type Folder } from "../../base/api/client";
import { Select } from "../../base/ui/Select";

export const useFolders = () => useQuery(ask("/api/folders"));

/** Folders in their order, each with how deep it lies; one whose parent can't be opened stands at the top. */
export function laidOut(all: Folder[]): { folder: Folder; depth: number }[] {
  const known = new Set(all.map((f) => f.id));
  const below = (parent: string, depth: number): { folder: Folder; depth: number }[] =>
    all
      .filter((f) => (f.parent && known.has(f.parent) ? f.parent : "") === parent)
      .flatMap((folder) => [{ folder, depth }, ...below(folder.id, depth + 1)]);
  return below("", 0);
}

/** Chooses a folder; "" is none. */
export function FolderChoice(props: { value: string; label?: string; onChange: (folder: string) => void }) {
  const folders = useFolders();
  return (
    <Select
      label={props.label ?? "Folder"}
      className="w-full"
      value={props.value}
      onChange={props.onChange}
      options={[
        { value: "", name: "In no folder" },
        ...laidOut(folders.data ?? []).map(({ folder, depth }) => ({
          value: folder.id,
          name: folder.name + (folder.open ? "" : " (closed)"),
          depth,
        })),
      ]}
    />
  );
}
