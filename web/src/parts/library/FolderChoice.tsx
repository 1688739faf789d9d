import { useQuery } from "@tanstack/react-query";
import { api, expect, type Folder } from "../../base/api/client";
import { shown } from "../../base/ui/shown";

export const useFolders = () => useQuery({ queryKey: ["folders"], queryFn: () => expect(api.GET("/api/folders")) });

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
    <select
      aria-label={props.label ?? "Folder"}
      value={props.value}
      onChange={(e) => props.onChange(e.target.value)}
      className="w-full rounded border border-soft bg-paper px-2 py-1"
    >
      <option value="">In no folder</option>
      {laidOut(folders.data ?? []).map(({ folder, depth }) => (
        <option key={folder.id} value={folder.id}>
          {"\u2003".repeat(depth)}
          {shown(folder.name)}
          {folder.open ? "" : " (closed)"}
        </option>
      ))}
    </select>
  );
}
