import { type RefObject, useCallback, useEffect, useRef } from "react";
import { useSearchParams } from "react-router";
import type { Row } from "../../parts/document/model";
import type { PageHandle } from "./Page";

/** Which picture is open, and which block one was sent to, is in the address: links lead there, and Back works. */
export function useOpened(
  rows: Row[],
  page: RefObject<PageHandle | null>,
  setWriting: (block: string | undefined) => void,
) {
  const [search, setSearch] = useSearchParams();
  useEffect(() => {
    window.history.scrollRestoration = "manual"; // the address says it more exactly than pixels
    return () => void (window.history.scrollRestoration = "auto");
  }, []);
  const figure = search.get("picture");
  const row = figure ? rows.find((r) => r.content.figures.some((f) => f.id === figure)) : undefined;
  const openPicture = useCallback(
    (id: string) => {
      setWriting(undefined);
      setSearch({ picture: id });
    },
    [setSearch, setWriting],
  );
  const target = search.get("block");
  const toWrite = useRef<string>(undefined); // it was chosen in the outline
  useEffect(() => {
    if (!target || figure) return;
    if (toWrite.current === target) page.current?.write(target);
    else page.current?.show(target, true);
    toWrite.current = undefined;
  }, [target, figure, page]);
  const goFromOutline = useCallback(
    (block: string) => {
      if (block === target) return page.current?.write(block);
      toWrite.current = block;
      setSearch({ block });
    },
    [target, setSearch, page],
  );
  return {
    picture: row && figure ? { row, figure } : undefined,
    openPicture,
    /** Another picture, which takes the place of this one on the way back. */
    turnTo: (id: string) => setSearch({ picture: id }, { replace: true }),
    close: () => row && setSearch({ block: row.id }),
    goFromOutline,
  };
}

export type Opened = ReturnType<typeof useOpened>;
