import { reasonOf } from "../../base/reason";
import { type Figure } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { core } from "../../base/core/core";
import { pictured, withPictures, wordsOf } from "../../parts/words/pasted";
import { clipOf } from "../../parts/clips/time";
import { isMoving, mayMove, useArriving } from "../../base/ui/arriving";
import { useNotice } from "../../base/ui/notices";
import type { Draft } from "../../parts/document/draft";
import { emptyPassage, emptyStep } from "../../base/api/content";
import type { Uploads } from "../../parts/document/uploads";
import { sure } from "../../base/typed";

/**
 * Brings pictures into a document: by paste, by dropping, by choosing. Answers: it is a request that came in, so that
 * what is brought in is of the answer, never of the question.
 */
export function useBringIn(
  draft: Draft | undefined,
  uploads: Uploads | undefined,
  target: () => string | undefined,
  onMade?: (block: string) => void,
  answers = false,
) {
  const notice = useNotice();
  // A recording is put in once the server has made it ready: until then nobody knows its pictures.
  const bringClip = async (file: File, put: (figures: Figure[]) => void) => {
    if (!uploads) return;
    notice({ text: `${file.name} is on its way; it is put in when it is there.` });
    try {
      const shot = await uploads.addClip(file);
      put([{ id: newID(), shot: shot.id, alt: "", marks: [], ...(shot.clip && { clip: clipOf(shot.clip) }) }]);
    } catch (e) {
      notice({ text: `${file.name}: ${reasonOf(e)}` });
    }
  };
  const bringIn = (all: File[], at?: number, into?: string) => {
    const files = all.filter((f) => !mayMove(f) && f.type !== "image/gif");
    for (const f of all.filter((f) => mayMove(f) || f.type === "image/gif"))
      void isMoving(f).then((moves) =>
        moves ? bringClip(f, (figures) => put(figures, at, into)) : bringPictures([f], at, into),
      );
    bringPictures(files, at, into);
  };
  const bringPictures = (files: File[], at?: number, into?: string) => {
    if (!draft || !uploads || files.length === 0 || draft.kind === "filed") return;
    const order = core.order(files.map((f) => ({ name: f.name, taken: new Date(f.lastModified).toISOString() })));
    const sorted = order.map((i) => sure(files[i]));
    const figures: Figure[] = uploads.add(sorted).map((shot) => ({ id: newID(), shot, alt: "", marks: [] }));
    put(figures, at, into);
  };
  const put = (figures: Figure[], at?: number, into?: string) => {
    if (!draft) return;
    const rows = draft.blocks();
    // What is pasted on a report shows what happened, unless it is put into a step.
    const first = rows.find((r) => (answers ? r.content.asks === "reply" : r.content.asks));
    const chosen = rows.find((r) => r.id === into) ?? rows.find((r) => r.content.asks && r.id === target());
    const step = answers && chosen?.content.asks ? first : (chosen ?? (at === undefined ? first : undefined));
    if (step) {
      draft.patch("Add pictures", [step.id], ({ content }) => ({
        ...content,
        figures: [...content.figures, ...figures],
      }));
      return;
    }
    draft.insert(
      figures.length === 1 ? "Add a picture" : `Add ${figures.length} pictures`,
      at ?? rows.length,
      figures.map((f) => ({ ...(draft.kind === "manual" ? emptyPassage() : emptyStep()), figures: [f] })),
    );
  };

  useArriving({
    // A paste goes into the step being written if it has no picture yet, else below it; else to the end.
    onPaste: (pictures) => {
      const rows = draft?.blocks() ?? [];
      const at = rows.findIndex((r) => r.id === target());
      const empty = at >= 0 && rows[at]?.content.figures.length === 0;
      bringIn(pictures, at >= 0 ? at + 1 : undefined, empty ? rows[at]?.id : undefined);
    },
    // Each line becomes a step: below the one that was written last, else at the end.
    onText:
      onMade &&
      ((html, text) => {
        const rows = draft?.blocks() ?? [];
        const at = rows.findIndex((r) => r.id === target());
        const pasted = pictured(html);
        const plain = !/<(li|p|div|br|h\d|img)\b/i.test(html);
        const steps = plain
          ? core.written(text)
          : withPictures(core.lines(wordsOf(pasted.html)), pasted.files, uploads);
        if (!draft || steps.length === 0) return;
        const label = steps.length === 1 ? "Paste a step" : `Paste ${steps.length} steps`;
        const [first] = draft.insert(label, at >= 0 ? at + 1 : rows.length, steps);
        if (first) onMade(first);
      }),
    // A drop goes before the step whose middle is below it.
    onDrop: (files, y) => {
      const below = [...document.querySelectorAll<HTMLElement>("[data-block]")].find((s) => {
        const box = s.getBoundingClientRect();
        return y < box.top + box.height / 2;
      });
      const at = draft?.blocks().findIndex((r) => r.id === below?.dataset.block) ?? -1;
      bringIn(files, at >= 0 ? at : undefined);
    },
  });
  return bringIn;
}
