import { createContext, useCallback, useEffect, useMemo, useState } from "react";
import type { CommentPlace, Thread } from "../../base/api/client";
import { chosenWords } from "./marked";
import { useComments } from "./useComments";

/** Begins a comment on a place; nothing where none can be made. */
export const Comment = createContext<((place: CommentPlace) => void) | undefined>(undefined);

/** The comments of which places in pictures are shown, and how to go to one. */
export const Pinned = createContext<{ threads: Thread[]; onGo: (thread: Thread) => void }>({
  threads: [],
  onGo: () => undefined,
});

/** Which comments are shown. */
export type Shown = "open" | "mine" | "all" | "none";

export type Commenting = {
  threads: Thread[];
  open: number;
  shown: Shown;
  onShow: (shown: Shown) => void;
  /** What is being said anew is about this. */
  begun: CommentPlace | undefined;
  begin: (place: CommentPlace) => void;
  end: () => void;
};

/** The comments of a document, which of them are shown, and the one that is begun. */
export function useCommenting(document: string): Commenting {
  const list = useComments(document);
  const [shown, onShow] = useState<Shown>("open");
  const [begun, setBegun] = useState<CommentPlace>();
  const all = useMemo(() => list.data ?? [], [list.data]);
  const threads = useMemo(
    () =>
      all.filter((t) =>
        shown === "none" ? false : shown === "all" || (shown === "mine" ? t.comments.some((c) => c.mine) : !t.resolved),
      ),
    [all, shown],
  );
  const begin = useCallback((place: CommentPlace) => {
    setBegun(place);
    onShow((s) => (s === "none" ? "open" : s));
  }, []);
  const end = useCallback(() => setBegun(undefined), []);
  useEffect(() => {
    // Ctrl, Alt and M comments on the words that are chosen, or the step that has the keyboard.
    const key = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || !e.altKey || e.code !== "KeyM") return;
      e.preventDefault();
      const block = (e.target as Element | null)?.closest<HTMLElement>("[data-block]")?.dataset.block;
      begin(chosenWords() ?? (block ? { block } : {}));
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, [begin]);
  return { threads, open: all.filter((t) => !t.resolved).length, shown, onShow, begun, begin, end };
}

/** Alt with Page Down and Page Up leads from comment to comment, in the order of the page. */
export function useNextComment(threads: Thread[], order: string[], go: (thread: Thread) => void) {
  useEffect(() => {
    const place = new Map(order.map((id, i) => [id, i]));
    const sorted = [...threads].sort(
      (a, b) => (place.get(a.place.block ?? "") ?? -1) - (place.get(b.place.block ?? "") ?? -1),
    );
    const key = (e: KeyboardEvent) => {
      if (!e.altKey || e.ctrlKey || e.metaKey || (e.key !== "PageDown" && e.key !== "PageUp")) return;
      if (sorted.length === 0) return;
      e.preventDefault();
      const here = window.document.activeElement?.closest<HTMLElement>("[data-thread]")?.dataset.thread;
      const at = sorted.findIndex((t) => t.id === here);
      const step = e.key === "PageDown" ? 1 : -1;
      const next = sorted[at < 0 ? (step > 0 ? 0 : sorted.length - 1) : (at + step + sorted.length) % sorted.length];
      if (next) go(next);
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, [threads, order, go]);
}
