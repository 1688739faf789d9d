import { useRef } from "react";
import { useNavigate } from "react-router";
import { core, loadCore } from "../../base/core/core";
import { isMoving, isPicture, mayMove, useArriving } from "../../base/ui/arriving";
import { useNotice } from "../../base/ui/notices";
import { settings } from "../shots/settings";
import { type Item, shots } from "../shots/shots";
import { afterOf } from "./after";
import { recorder } from "./recorder";
import { studio } from "../../base/core/studio";
import { sure } from "../../base/typed";

/** Takes pictures from files in natural order. */
export async function bringFiles(files: File[]) {
  await loadCore();
  const pictures = files.filter((f) => isPicture(f) || mayMove(f));
  const path = (f: File) => f.webkitRelativePath || f.name;
  const order = core.order(pictures.map((f) => ({ name: path(f), taken: new Date(f.lastModified).toISOString() })));
  for (const i of order) {
    const file = sure(pictures[i]);
    if (await isMoving(file)) await shots.addClip(file, file.name, new Date(file.lastModified));
    else await bring(file, "file", new Date(file.lastModified), file.name);
  }
  return { taken: pictures.length, left: files.length - pictures.length };
}

/** Takes a picture from the clipboard or a file into the session. */
export async function bring(blob: Blob, source: "file" | "clipboard", taken: Date, name?: string) {
  const about = { taken: taken.toISOString(), source };
  try {
    const small = await studio("thumb", { blob });
    const parts = source === "clipboard" ? await studio("monitors", { blob }) : [];
    return await kept({ blob, ...small, about, name, parts: parts.length > 1 ? parts : undefined });
  } catch {
    // The browser can't show it (TIFF, or broken): the server reads more kinds and says what is wrong.
    return kept({ blob, thumb: new Blob(), width: 0, height: 0, about, name });
  }
}

async function kept(picture: Parameters<typeof shots.add>[0]): Promise<Item> {
  const item = await shots.add(picture);
  await recorder.then({ ...item, blob: picture.blob }, afterOf(settings(), picture.about.source));
  return item;
}

/** Pictures come in by paste and by dropping files and folders anywhere on the page. */
export function useInflow(away = false) {
  const notice = useNotice();
  const navigate = useNavigate();
  const queue = useRef(Promise.resolve());
  // Elsewhere the session is not in sight.
  const tell = () => {
    if (!away) return;
    notice({
      text: "It is among your shots.",
      action: { label: "Go to Capture", run: () => void navigate("/capture") },
    });
  };
  useArriving({
    onPaste: (pictures) => {
      // Several in a row stay in order.
      for (const p of pictures)
        queue.current = queue.current
          .then(() => loadCore())
          .then(async () =>
            (await isMoving(p)) ? shots.addClip(p, p.name, new Date()) : bring(p, "clipboard", new Date()),
          )
          .then(() => undefined);
      tell();
    },
    onDrop: (files) =>
      void bringFiles(files).then(({ left, taken }) => {
        if (taken > 0) tell();
        if (left > 0)
          notice({
            text:
              left === 1
                ? "1 file is no picture or recording and was left out."
                : `${left} files are no pictures or recordings and were left out.`,
          });
      }),
  });
}
