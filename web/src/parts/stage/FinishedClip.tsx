import { reasonOf } from "../../base/reason";
import { sizeOf } from "../../base/format";
import { useEffect, useState } from "react";
import type { Figure } from "../../base/api/client";
import { DragOut, type Made } from "./DragOut";
import { Pick } from "./fields";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { type ClipForm, clipForms, keepForm, makeClip } from "../clips/make";

const limits = {
  "0": "As large as it gets",
  "1000000": "At most 1 MB",
  "5000000": "At most 5 MB",
  "10000000": "At most 10 MB",
};

type Ready = Made & { of: Figure; how: string };

/**
 * Takes the finished clip out: played as it will be, copied, saved, or dragged; the form that is chosen is the one that
 * is sent, too.
 */
export function FinishedClip(props: { figure: Figure; first: number; name: string; onForm: (form: ClipForm) => void }) {
  const { figure, first, name } = props;
  const notice = useNotice();
  const form = figure.clip?.form ?? "mp4";
  const [most, setMost] = useState("0");
  const [ready, setReady] = useState<Ready>();
  const [share, setShare] = useState<number>();
  const [playing, setPlaying] = useState(false);
  useEffect(() => () => void (ready && URL.revokeObjectURL(ready.url)), [ready]);
  const base = name.replace(/\.[a-z0-9]{3,4}$/i, "") || "clip";
  const how = `${form} ${most}`;
  const fresh = ready?.of === figure && ready.how === how ? ready : undefined;
  const make = async (): Promise<Ready | undefined> => {
    if (fresh) return fresh;
    setShare(0);
    try {
      const address = await makeClip(figure, first, form, Number(most), setShare);
      const blob = await (await fetch(address)).blob();
      const file = new File([blob], `${base}.${form}`, { type: blob.type });
      const all = { of: figure, how, file, url: URL.createObjectURL(file) };
      setReady(all);
      return all;
    } catch (e) {
      notice({ text: reasonOf(e) });
      return undefined;
    } finally {
      setShare(undefined);
    }
  };
  const save = async () => {
    const all = await make();
    if (!all) return;
    Object.assign(document.createElement("a"), { href: all.url, download: all.file.name }).click();
    notice({ text: `${all.file.name}: ${sizeOf(all.file.size)}.` });
  };
  const copy = async () => {
    const all = await make();
    if (!all) return;
    try {
      // Clipboards take pictures and words: a clip goes as a picture in a page, which mails and chats show.
      const data = await dataOf(all.file);
      const html = new Blob([`<img src="${data}" alt="">`], { type: "text/html" });
      await navigator.clipboard.write([new ClipboardItem({ "text/html": html })]);
      notice({ text: "The clip is on the clipboard." });
    } catch (e) {
      notice({ text: `The clip was not copied: ${reasonOf(e)}` });
    }
  };
  const busy = share !== undefined;
  return (
    <section aria-label="Finished clip" className="space-y-2">
      <div className="flex flex-wrap gap-1">
        <Button small disabled={busy} onClick={() => void make().then((all) => all && setPlaying(true))}>
          Play as it will be
        </Button>
        <Button small disabled={busy} onClick={() => void save()}>
          Save
        </Button>
        {(form === "gif" || form === "webp") && (
          <Button small disabled={busy} onClick={() => void copy()}>
            Copy
          </Button>
        )}
      </div>
      <div className="flex flex-wrap gap-1">
        <Pick
          label="Form"
          value={form}
          options={clipForms}
          onPick={(f) => {
            keepForm(f);
            props.onForm(f);
          }}
        />
        <Pick label="Size" value={most} options={limits} onPick={setMost} />
      </div>
      {busy && (
        <p role="status" className="text-sm">
          Being made: {Math.round(share * 100)} %
          <progress value={share} max={1} className="block w-full" />
        </p>
      )}
      {playing && fresh && (form === "mp4" || form === "webm") && (
        <video controls autoPlay src={fresh.url} className="w-full" aria-label="The finished clip" />
      )}
      {playing && fresh && (form === "gif" || form === "webp") && (
        <img src={fresh.url} alt="The finished clip" className="w-full" />
      )}
      <DragOut
        made={fresh}
        says={fresh ? `${fresh.file.name}, ${sizeOf(fresh.file.size)}: drag it out` : "Play it first, then drag it out"}
      />
    </section>
  );
}

const dataOf = (file: File) =>
  new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(new Error("it can’t be read"));
    reader.readAsDataURL(file);
  });
