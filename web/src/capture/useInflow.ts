import { useEffect } from "react";
import { useNavigate } from "react-router";
import { core, loadCore } from "../core/core";
import { useNotice } from "../ui/controls";
import { shots } from "../shots/shots";
import { studio } from "./studio";

export const isPicture = (f: File) => f.type.startsWith("image/") || /\.(png|jpe?g|gif|webp|bmp|tiff?)$/i.test(f.name);

/** Takes pictures from files in natural order. */
export async function bringFiles(files: File[]) {
  await loadCore();
  const pictures = files.filter(isPicture);
  const path = (f: File) => f.webkitRelativePath || f.name;
  const order = core.order(pictures.map((f) => ({ name: path(f), taken: new Date(f.lastModified).toISOString() })));
  for (const i of order) {
    const file = pictures[i] as File;
    await bring(file, "file", new Date(file.lastModified), file.name);
  }
  return { taken: pictures.length, left: files.length - pictures.length };
}

/** Takes a picture from the clipboard or a file into the session. */
export async function bring(blob: Blob, source: "file" | "clipboard", taken: Date, name?: string) {
  const about = { taken: taken.toISOString(), source };
  try {
    const small = await studio("thumb", { blob });
    const parts = source === "clipboard" ? await studio("monitors", { blob }) : [];
    return await shots.add({ blob, ...small, about, name, parts: parts.length > 1 ? parts : undefined });
  } catch {
    // The browser can't show it (TIFF, or broken): the server reads more kinds and says what is wrong.
    return shots.add({ blob, thumb: new Blob(), width: 0, height: 0, about, name });
  }
}

/** Pictures come in by paste and by dropping files and folders anywhere on the page. */
export function useInflow(away = false) {
  const notice = useNotice();
  const navigate = useNavigate();
  useEffect(() => {
    let queue = Promise.resolve();
    // Elsewhere the tray is not in sight.
    const tell = () => {
      if (!away) return;
      notice({ text: "It is in the tray.", action: { label: "Go to the tray", run: () => void navigate("/capture") } });
    };
    const paste = (e: ClipboardEvent) => {
      const files = [...(e.clipboardData?.files ?? [])].filter(isPicture);
      if (files.length === 0) return;
      e.preventDefault();
      // Several in a row stay in order.
      for (const f of files)
        queue = queue
          .then(() => loadCore())
          .then(() => bring(f, "clipboard", new Date()))
          .then(() => undefined);
      tell();
    };
    const over = (e: DragEvent) => {
      if (e.dataTransfer?.types.includes("Files")) e.preventDefault();
    };
    const drop = (e: DragEvent) => {
      const items = [...(e.dataTransfer?.items ?? [])];
      if (!e.dataTransfer?.types.includes("Files")) return;
      e.preventDefault();
      const entries = items.map((i) => i.webkitGetAsEntry()).filter((x) => x !== null);
      void Promise.all(entries.map(filesIn)).then(async (found) => {
        const { left, taken } = await bringFiles(found.flat());
        if (taken > 0) tell();
        if (left > 0)
          notice({
            text:
              left === 1
                ? "1 file is no picture and was left out."
                : `${left} files are no pictures and were left out.`,
          });
      });
    };
    addEventListener("paste", paste);
    addEventListener("dragover", over);
    addEventListener("drop", drop);
    return () => {
      removeEventListener("paste", paste);
      removeEventListener("dragover", over);
      removeEventListener("drop", drop);
    };
  }, [notice, navigate, away]);
}

/** The files of what was dropped, those in folders included. */
async function filesIn(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) {
    return [await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) break;
    all.push(...some);
  }
  return (await Promise.all(all.map(filesIn))).flat();
}
