import { fields } from "../keys/fields";
import { useLayoutEffect, useRef } from "react";

export const isPicture = (f: File) => f.type.startsWith("image/") || /\.(png|jpe?g|gif|webp|bmp|tiff?)$/i.test(f.name);

/** Whether a file is one of moving pictures; a GIF is where it has more than one. */
export async function isMoving(f: File): Promise<boolean> {
  if (f.type.startsWith("video/") || /\.(mp4|webm|mov|m4v)$/i.test(f.name)) return true;
  if (f.type !== "image/gif" || !("ImageDecoder" in globalThis)) return false;
  const reader = new ImageDecoder({ data: f.stream(), type: f.type });
  try {
    await reader.completed;
    return (reader.tracks.selectedTrack?.frameCount ?? 1) > 1;
  } catch {
    return false; // the server says what is wrong with it
  } finally {
    reader.close();
  }
}

export const mayMove = (f: File) => f.type.startsWith("video/") || /\.(mp4|webm|mov|m4v)$/i.test(f.name);

const isField = (target: EventTarget | null) =>
  target instanceof Element && target.closest(`${fields}, [contenteditable]`) !== null;

type Taker = {
  /** Pictures were pasted, one or more. */
  onPaste: (pictures: File[]) => void;
  /** Words were pasted where nothing is written, as a page has them ("" where they are plain) and as plain text. */
  onText?: (html: string, text: string) => void;
  /** Files were dropped, those in folders included, at a height of the window. */
  onDrop: (files: File[], y: number) => void;
};

/** Takes what is pasted and dropped anywhere on the page. */
export function useArriving(taker: Taker) {
  const latest = useRef(taker);
  useLayoutEffect(() => {
    latest.current = taker;
  });
  useLayoutEffect(() => {
    const paste = (e: ClipboardEvent) => {
      const told = e.clipboardData;
      const pictures = [...(told?.files ?? [])].filter((f) => isPicture(f) || mayMove(f));
      if (pictures.length > 0) {
        e.preventDefault();
        latest.current.onPaste(pictures);
      } else if (latest.current.onText && told?.types.includes("text/plain") && !isField(e.target)) {
        e.preventDefault();
        latest.current.onText(told.getData("text/html"), told.getData("text/plain"));
      } else if (!told?.types.some((t) => t.startsWith("text/"))) {
        void copied().then((found) => found.length > 0 && latest.current.onPaste(found));
      }
    };
    const over = (e: DragEvent) => {
      if (e.dataTransfer?.types.includes("Files")) e.preventDefault();
    };
    const drop = (e: DragEvent) => {
      if (!e.dataTransfer?.types.includes("Files")) return;
      e.preventDefault();
      const y = e.clientY;
      void Promise.all([...e.dataTransfer.items].map(filesOf)).then((found) => latest.current.onDrop(found.flat(), y));
    };
    addEventListener("paste", paste);
    addEventListener("dragover", over);
    addEventListener("drop", drop);
    return () => {
      removeEventListener("paste", paste);
      removeEventListener("dragover", over);
      removeEventListener("drop", drop);
    };
  }, []);
}

/** The pictures on the clipboard, asked for where the browser's paste brings none, as WebKit's does. */
async function copied(): Promise<File[]> {
  try {
    const items = await navigator.clipboard.read();
    const pictures = items.flatMap((item) => {
      const type = item.types.find((t) => t.startsWith("image/"));
      return type ? [{ item, type }] : [];
    });
    return await Promise.all(
      pictures.map(async ({ item, type }) => new File([await item.getType(type)], "", { type })),
    );
  } catch {
    return []; // the clipboard is empty, or may not be read
  }
}

/** The file that was dropped, or the files of the folder. It is asked for while the drop is being told. */
function filesOf(item: DataTransferItem): Promise<File[]> {
  const entry = item.webkitGetAsEntry();
  if (entry) return filesIn(entry);
  const file = item.getAsFile();
  return Promise.resolve(file ? [file] : []);
}

const isFile = (entry: FileSystemEntry): entry is FileSystemFileEntry => entry.isFile;
const isFolder = (entry: FileSystemEntry): entry is FileSystemDirectoryEntry => entry.isDirectory;

async function filesIn(entry: FileSystemEntry): Promise<File[]> {
  if (isFile(entry)) return [await new Promise<File>((resolve, reject) => entry.file(resolve, reject))];
  if (!isFolder(entry)) return [];
  const reader = entry.createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) break;
    all.push(...some);
  }
  return (await Promise.all(all.map(filesIn))).flat();
}
