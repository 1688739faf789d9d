import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import type { Figure } from "../../base/api/client";
import type { Size } from "../../base/core/core";
import { Past } from "../document/past";
import { useUndoKeys } from "../document/useUndo";
import { Board } from "./Board";
import { StageProvider } from "./core";
import { CropPanel } from "./CropPanel";
import { MarkList } from "./MarkList";
import { MarkWords } from "./MarkWords";
import { Pad } from "./Pad";
import type { Pixels } from "./paint";
import { useColours } from "./useColours";
import { Several } from "./Several";
import { useStageKeys } from "./useStageKeys";
import { useStage } from "./useStage";
import { useZoom } from "./useZoom";

type Deed = { label: string; at: number; before: Figure; after: Figure };

const nothing = { x: 0, y: 0, w: 16, h: 9 };

/** A picture to draw on that belongs to no document: the pad, the marks, undo, and whatever stands above it. */
export function Sketch(props: {
  figure: Figure;
  size: Size;
  first: number;
  pixels: Pixels;
  label: string;
  /** Stands under the marks. */
  note: string;
  onChange: (figure: Figure) => void;
  onClose: () => void;
  children: ReactNode;
}) {
  const { figure, onChange } = props;
  const [past] = useState(() => new Past<Deed>());
  const editor = useRef<HTMLTextAreaElement>(null);
  const pixels = useColours(figure, props.pixels);
  const { stage, painting, view, take } = useStage(figure, props.size, props.first, pixels, (next, label) => {
    past.add({ label, at: Date.now(), before: figure, after: next });
    onChange(next);
  });
  useUndoKeys((how) => {
    const deed = how === "undo" ? past.back() : past.on();
    if (deed) onChange(how === "undo" ? deed.before : deed.after);
  });
  const zoom = useZoom(view?.frame ?? nothing);
  const chosen = view?.selected?.id;
  const writes = view?.typing;
  useEffect(() => {
    if (writes) editor.current?.focus();
  }, [writes, chosen]);
  const write = useCallback(() => editor.current?.focus(), []);
  useStageKeys({ stage, view, zoom, take, onClose: props.onClose, onCopyPicture: () => undefined, write });
  if (!stage) return null;
  return (
    <StageProvider value={stage}>
      <div className="grid min-h-[calc(100dvh-var(--bar))] grid-cols-[15rem_minmax(0,1fr)]">
        <aside
          aria-label="Marks"
          className="sticky top-(--bar) flex h-[calc(100dvh-var(--bar))] flex-col gap-2.5 overflow-y-auto px-3 py-2.5"
        >
          <Pad tool={view?.tool} onChoose={(tool, keep) => take(stage.choose(tool, keep))} />
          {view?.crop && <CropPanel view={view} onTake={take} />}
          {view && view.chosen.length > 1 && <Several count={view.chosen.length} onTake={take} />}
          {view && <MarkWords view={view} editor={editor} take={take} />}
          {view && <MarkList view={view} onTake={take} />}
          <p className="mt-auto text-sm text-soft">{props.note}</p>
        </aside>
        <main className="min-w-0 bg-paper px-4 py-2">
          {props.children}
          {view && (
            <Board
              view={view}
              figure={figure}
              painting={painting}
              zoom={zoom}
              take={take}
              copies={false}
              label={props.label}
            />
          )}
        </main>
      </div>
    </StageProvider>
  );
}
