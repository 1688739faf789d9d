import { useLayoutEffect, useRef } from "react";

export const isPicture = (f: File) => f.type.startsWith("image/") || /\.(png|jpe?g|gif|webp|bmp|tiff?)$/i.test(f.name);

type Taker = {
  /** Pictures were pasted, one or more. */
  onPaste: (pictures: File[]) => void;
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
      const pictures = [...(e.clipboardData?.files ?? [])].filter(isPicture);
      if (pictures.length === 0) return;
      e.preventDefault();
      latest.current.onPaste(pictures);
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

/** The file that was dropped, or the files of the folder. It is asked for while the drop is being told. */
function filesOf(item: DataTransferItem): Promise<File[]> {
  const entry = item.webkitGetAsEntry();
  if (entry) return filesIn(entry);
  const file = item.getAsFile();
  return Promise.resolve(file ? [file] : []);
}

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
