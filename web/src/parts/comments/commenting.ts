import { createContext, useCallback, useMemo, useState } from "react";
import { useKeys } from "../../base/keys/useKeys";
import type { CommentPlace, Thread } from "../../base/api/client";
import { chosenWords } from "./marked";
import { useComments } from "./useComments";
import { around } from "../../base/typed";

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
  useKeys("Comments", [
    {
      keys: "Ctrl+Alt+W",
      does: "Comment on the words that are chosen, or on the step",
      writing: "fields",
      run: (e) => {
        const block = around(e, "[data-block]")?.dataset.block;
        begin(chosenWords() ?? (block ? { block } : {}));
      },
    },
  ]);
  return { threads, open: all.filter((t) => !t.resolved).length, shown, onShow, begun, begin, end };
}

/** Alt with Page Down and Page Up leads from comment to comment, in the order of the page. */
export function useNextComment(threads: Thread[], order: string[], go: (thread: Thread) => void) {
  const step = (by: 1 | -1) => {
    const place = new Map(order.map((id, i) => [id, i]));
    const at = (t: Thread) => place.get(t.place.block ?? "") ?? -1;
    const sorted = [...threads].sort((a, b) => at(a) - at(b));
    const here = window.document.activeElement?.closest<HTMLElement>("[data-thread]")?.dataset.thread;
    const now = sorted.findIndex((t) => t.id === here);
    const next = sorted[now < 0 ? (by > 0 ? 0 : sorted.length - 1) : (now + by + sorted.length) % sorted.length];
    return next ? go(next) : false;
  };
  useKeys("Comments", [
    { keys: "Alt+Page Down", does: "Go to the next comment", writing: "fields", run: () => step(1) },
    { keys: "Alt+Page Up", does: "Go to the comment before", writing: "fields", run: () => step(-1) },
  ]);
}
