import { useEffect, useState } from "react";
import type { Figure } from "../api/client";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { DragOut, type Made } from "./DragOut";
import { copyFinished, endings, finish, type FinishedPicture, sizeOf } from "./finished";
import { NumberField, Pick } from "./fields";

const limits = { "0": "Full size", "200000": "At most 200 KB", "1000000": "At most 1 MB", "10000000": "At most 10 MB" };
const types = { png: "PNG", jpeg: "JPEG", webp: "WebP", gif: "GIF", pdf: "PDF" };

/** Takes the finished picture out: copied, saved, printed, or dragged. */
export function Finished({ figure, first, name }: { figure: Figure; first: number; name: string }) {
  const notice = useNotice();
  const [type, setType] = useState<keyof typeof types>("png");
  const [quality, setQuality] = useState(90);
  const [most, setMost] = useState("0");
  const [ready, setReady] = useState<Ready>();
  const [busy, setBusy] = useState(false);
  const base = name.replace(/\.[a-z]{3,4}$/i, "") || "picture";
  useEffect(() => () => void (ready && URL.revokeObjectURL(ready.url)), [ready]);

  const how = `${type} ${quality} ${most}`;
  const fresh = ready?.of === figure && ready.how === how ? ready : undefined;
  const make = async (): Promise<Ready | undefined> => {
    if (fresh) return fresh;
    setBusy(true);
    try {
      const made = await finish(figure, first, { type, quality, ...(most !== "0" && { most: Number(most) }) });
      const file = new File([made.blob], `${base}.${endings[made.blob.type] ?? "png"}`, { type: made.blob.type });
      const all = { of: figure, how, made, file, url: URL.createObjectURL(file) };
      setReady(all);
      return all;
    } catch (e) {
      notice({ text: (e as Error).message });
      return undefined;
    } finally {
      setBusy(false);
    }
  };
  const save = async () => {
    const all = await make();
    if (!all) return;
    const { made, url } = all;
    const file = all.file.name;
    Object.assign(document.createElement("a"), { href: url, download: file }).click();
    const letters = made.letters > 0 ? ` Its usual text is ${made.letters.toFixed(0)} pixels high.` : "";
    const share = made.share < 1 ? `, ${Math.round(made.share * 100)} % of its width` : "";
    notice({ text: `${file}: ${sizeOf(made.blob.size)}, ${made.width} pixels wide${share}.${letters}` });
  };
  const print = async () => {
    setBusy(true);
    try {
      const { blob } = await finish(figure, first, { type: "png" });
      const frame = document.createElement("iframe");
      frame.className = "fixed size-0";
      const url = URL.createObjectURL(blob);
      document.body.append(frame);
      const page = frame.contentDocument as Document;
      const image = page.createElement("img");
      image.style.maxWidth = "100%";
      image.alt = figure.alt;
      image.src = url;
      await image.decode();
      page.body.append(image);
      frame.contentWindow?.addEventListener("afterprint", () => {
        frame.remove();
        URL.revokeObjectURL(url);
      });
      frame.contentWindow?.print();
    } catch (e) {
      notice({ text: `The picture was not printed: ${(e as Error).message}` });
    } finally {
      setBusy(false);
    }
  };
  return (
    <section aria-label="Finished picture" className="space-y-2">
      <div className="flex flex-wrap gap-1">
        <Button small onClick={() => void copyFinished(figure, first, (text) => notice({ text }))}>
          Copy
        </Button>
        <Button small disabled={busy} onClick={() => void save()}>
          Save
        </Button>
        <Button small disabled={busy} onClick={() => void print()}>
          Print
        </Button>
      </div>
      <div className="flex flex-wrap gap-1">
        {most === "0" && <Pick label="Format" value={type} options={types} onPick={(t) => setType(t as typeof type)} />}
        <Pick label="Size" value={most} options={limits} onPick={setMost} />
        {most === "0" && type === "jpeg" && (
          <NumberField label="Quality" value={quality} min={1} max={100} onChange={setQuality} />
        )}
      </div>
      {/* It is made while the pointer comes near, so that it is there when the drag begins. */}
      <DragOut
        made={fresh}
        says={fresh ? `${fresh.file.name}, ${sizeOf(fresh.file.size)}` : "Drag it out"}
        onNear={() => void make()}
      />
    </section>
  );
}

/** A finished picture as a file, of a figure as it was and in a format. */
type Ready = Made & { of: Figure; how: string; made: FinishedPicture };
