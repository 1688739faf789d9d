import { reasonOf } from "../../base/reason";
import { useEffect, useRef, useState } from "react";
import type { Figure } from "../../base/api/client";
import { core } from "../../base/core/core";
import { useNotice } from "../../base/ui/notices";
import { saveAs } from "../../base/ui/saveAs";
import { endings, finish, type FinishedPicture } from "./finished";
import { sizeOf } from "../../base/format";

export type How = Parameters<typeof finish>[2];

/** A finished picture as a file, of a figure as it was and in a format. */
export type Ready = { of: Figure; how: string; made: FinishedPicture; file: File; url: string };

/** Takes the finished picture out as a file: made once for a format, saved under a name, or put into a mail. */
export function useTakeOut(figure: Figure | undefined, first: number, name: string) {
  const notice = useNotice();
  const [ready, setReady] = useState<Ready>();
  const [busy, setBusy] = useState(false);
  const last = useRef(ready);
  useEffect(() => {
    if (last.current && last.current !== ready) URL.revokeObjectURL(last.current.url);
    last.current = ready;
  }, [ready]);
  useEffect(() => () => void (last.current && URL.revokeObjectURL(last.current.url)), []);

  const fresh = (how: How) => (ready?.of === figure && ready?.how === JSON.stringify(how) ? ready : undefined);
  const make = async (how: How): Promise<Ready | undefined> => {
    const kept = fresh(how);
    if (kept || !figure) return kept;
    setBusy(true);
    try {
      const made = await finish(figure, first, how);
      const file = new File([made.blob], `${name}.${endings[made.blob.type] ?? "png"}`, { type: made.blob.type });
      const all = { of: figure, how: JSON.stringify(how), made, file, url: URL.createObjectURL(file) };
      setReady(all);
      return all;
    } catch (e) {
      notice({ text: reasonOf(e) });
      return undefined;
    } finally {
      setBusy(false);
    }
  };
  const save = async (how: How, as: string) => {
    const all = await make(how);
    if (!all) return;
    const { made } = all;
    const file = `${core.safeName(as)}.${endings[made.blob.type] ?? "png"}`;
    saveAs(made.blob, file);
    const letters = made.letters > 0 ? ` Its usual text is ${made.letters.toFixed(0)} pixels high.` : "";
    const share = made.share < 1 ? `, ${Math.round(made.share * 100)} % of its width` : "";
    notice({ text: `${file}: ${sizeOf(made.blob.size)}, ${made.width} pixels wide${share}.${letters}` });
  };
  /** A mail that carries it, for the person's own mail program. */
  const mail = async () => {
    if (!figure) return;
    setBusy(true);
    try {
      const { blob } = await finish(figure, first, { type: "eml", name });
      saveAs(blob, `${core.safeName(name)}.eml`);
      notice({
        text: "A mail with the picture is among your downloads. Open it, and your mail program lets you send it.",
      });
    } catch (e) {
      notice({ text: `The picture was not put into a mail: ${reasonOf(e)}` });
    } finally {
      setBusy(false);
    }
  };
  return { busy, fresh, make, save, mail };
}
