import { useCallback, useEffect, useRef, useState } from "react";
import type { Block, Figure } from "../api/client";
import { groundAddress, offGround, onGround } from "../comments/ground";
import { useSay } from "../comments/useComments";
import type { Size } from "../core/core";
import { Past } from "../manuscript/past";
import { useUndoKeys } from "../manuscript/useUndo";
import { Board } from "../stage/Board";
import { StageProvider } from "../stage/core";
import { CropPanel } from "../stage/CropPanel";
import { usePixels } from "../stage/Drawn";
import { MarkList } from "../stage/MarkList";
import { MarkWords } from "../stage/MarkWords";
import { Pad } from "../stage/Pad";
import { Several } from "../stage/Several";
import { useKeys } from "../stage/useKeys";
import { useStage } from "../stage/useStage";
import { useZoom } from "../stage/useZoom";
import { Button } from "../ui/controls";
import { unsent } from "../ui/unsent";
import { WordsView } from "../words/WordsView";

type Deed = { label: string; at: number; before: Figure; after: Figure };

const nothing = { x: 0, y: 0, w: 16, h: 9 };

/** Another look of a picture, drawn to suggest it: other marks, another crop. The document stays as it is. */
export function SuggestPicture(props: {
  document: string;
  seq: number;
  block: Block;
  figure: Figure;
  size: Size;
  first: number;
  onDone: () => void;
}) {
  const { document, block, size, onDone } = props;
  const keep = `look ${props.figure.id}`;
  const [drawn, setDrawn] = useState<Figure>(() => {
    const begun = unsent.get(keep);
    return begun ? (JSON.parse(begun) as Figure) : onGround(props.figure);
  });
  const [past] = useState(() => new Past<Deed>());
  const [why, setWhy] = useState("");
  const { say } = useSay(document);
  const editor = useRef<HTMLTextAreaElement>(null);
  const [ground] = useState(() => groundAddress(document, props.figure.id, props.seq)); // the one that was begun on
  const pixels = usePixels(ground, size);
  const show = (next: Figure) => {
    unsent.set(keep, JSON.stringify(next));
    setDrawn(next);
  };
  const { stage, painting, view, take } = useStage(drawn, size, props.first, pixels, (next, label) => {
    past.add({ label, at: Date.now(), before: drawn, after: next });
    show(next);
  });
  useUndoKeys((how) => {
    const deed = how === "undo" ? past.back() : past.on();
    if (deed) show(how === "undo" ? deed.before : deed.after);
  });
  const zoom = useZoom(view?.frame ?? nothing);
  const chosen = view?.selected?.id;
  const writes = view?.typing;
  useEffect(() => {
    if (writes) editor.current?.focus();
  }, [writes, chosen]);
  const write = useCallback(() => editor.current?.focus(), []);
  const leave = useCallback(() => {
    unsent.delete(keep);
    onDone();
  }, [keep, onDone]);
  const close = onDone; // by Escape: what was drawn is there again
  useKeys({ stage, view, zoom, take, onClose: close, onCopyPicture: () => undefined, write });
  const changed = past.undoes !== undefined || unsent.has(keep);
  const send = () =>
    say.mutate(
      {
        id: crypto.randomUUID(),
        place: { block: block.id, figure: props.figure.id },
        body: why.trim() || "Another look of this picture.",
        mentions: [],
        figure: offGround(drawn, props.figure),
      },
      { onSuccess: leave },
    );
  if (!stage) return null;
  return (
    <StageProvider value={stage}>
      <div className="grid min-h-[calc(100dvh-3rem)] grid-cols-[15rem_minmax(0,1fr)]">
        <aside
          aria-label="Marks"
          className="sticky top-12 flex h-[calc(100dvh-3rem)] flex-col gap-2.5 overflow-y-auto px-3 py-2.5"
        >
          <Pad tool={view?.tool} onChoose={(tool, keep) => take(stage.choose(tool, keep))} />
          {view?.crop && <CropPanel view={view} onTake={take} />}
          {view && view.chosen.length > 1 && <Several count={view.chosen.length} onTake={take} />}
          {view && <MarkWords view={view} editor={editor} take={take} />}
          {view && <MarkList view={view} onTake={take} />}
          <p className="mt-auto text-sm text-soft">
            What is concealed stays so, and what the crop leaves out is not shown here. The document stays as it is
            until whoever writes it takes your suggestion.
          </p>
        </aside>
        <main className="min-w-0 bg-paper px-4 py-2">
          <h1 className="text-lg font-bold">Another look of this picture</h1>
          <div className="flex gap-2 border-b border-line pb-2">
            {block.number && <b>{block.number}</b>}
            <WordsView words={block.content.words} markers={block.markers} />
          </div>
          <div className="my-2 flex flex-wrap items-center gap-2">
            <input
              aria-label="Why"
              placeholder="Why, if it needs saying"
              maxLength={1000}
              value={why}
              onChange={(e) => setWhy(e.target.value)}
              className="min-w-48 flex-1 rounded border border-soft px-2 py-1 placeholder:text-soft"
            />
            <Button look="main" disabled={say.isPending || !changed} onClick={send}>
              Suggest it
            </Button>
            <Button onClick={leave}>Cancel</Button>
          </div>
          {say.error && (
            <p role="alert" className="text-mustfix">
              {say.error.message}
            </p>
          )}
          {view && (
            <Board
              view={view}
              figure={drawn}
              painting={painting}
              zoom={zoom}
              take={take}
              copies={false}
              label={`Picture of step ${block.number ?? ""}. Choose from the pad, then drag, or press Enter to place`}
            />
          )}
        </main>
      </div>
    </StageProvider>
  );
}
