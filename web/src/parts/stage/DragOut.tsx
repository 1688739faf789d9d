import { GripVertical } from "lucide-react";

/** A file that has been made, with an address that the browser can fetch it by. */
export type Made = { file: File; url: string };

/** A handle that a finished file is dragged out by: to pages, that take files, and to the desktop. */
export function DragOut(props: { made: Made | undefined; says: string; onNear?: () => void }) {
  const { made } = props;
  return (
    <div
      draggable
      title="Drag it to the desktop or another tab"
      onPointerEnter={props.onNear}
      onDragStart={(e) => {
        if (!made) return e.preventDefault();
        e.dataTransfer.effectAllowed = "copy";
        e.dataTransfer.items.add(made.file);
        e.dataTransfer.setData("DownloadURL", `${made.file.type}:${made.file.name}:${made.url}`);
      }}
      className={`flex items-center gap-1.5 rounded border border-dashed border-soft px-2 py-1 text-sm ${made ? "cursor-grab" : "text-soft"}`}
    >
      <GripVertical size={14} aria-hidden className="shrink-0" />
      <span className="truncate">{props.says}</span>
    </div>
  );
}
