import { useEffect, useMemo, useRef } from "react";
import type { Content } from "../api/client";
import { core } from "../core/core";
import { useNotice } from "../ui/notices";
import type { Draft } from "./draft";
import { emptyStep, type Row } from "./model";
import type { Uploads } from "./uploads";
import type { Travel } from "./useUndo";

/** What a person can do to a step. They stay the same for as long as the document is open. */
export type StepActions = {
  write: (id: string, label: string, content: Content, joins?: boolean) => void;
  insert: (at: number) => void;
  move: (id: string, to: number) => void;
  remove: (id: string) => void;
  merge: (id: string, figure: string, to: number) => void;
  open: (figure: string) => void;
  addPictures: (step: string) => void;
  dropPicture: (step: string, figure: string) => void;
  settle: (id: string, choice: "mine" | "theirs") => void;
};

export function useActions(props: {
  draft: Draft;
  uploads: Uploads;
  travel: Travel;
  onWriting: (id: string | undefined) => void;
  onOpen: (figure: string) => void;
  onAddPictures: (block: string) => void;
}): StepActions {
  const { draft, uploads, travel } = props;
  const notice = useNotice();
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  return useMemo<StepActions>(() => {
    const step = (id: string) => draft.blocks().find((r) => r.id === id) as Row;
    const without = (row: Row, figure: string) => ({
      order: row.order,
      removed: core.empty(row.content.words) && row.content.figures.length === 1,
      content: { ...row.content, figures: row.content.figures.filter((f) => f.id !== figure) },
    });
    return {
      write: (id, label, content, joins) => draft.write(id, label, content, joins),
      insert: (at) => latest.current.onWriting(draft.insert("Add a step", at, [emptyStep()])[0]),
      move: (id, to) => draft.move(id, to),
      remove: (id) => {
        draft.remove(id);
        notice({ text: "The step is deleted.", action: { label: "Undo", run: () => travel("undo") } });
      },
      merge: (id, figure, to) => {
        const from = step(id);
        const into = draft.blocks()[to] as Row;
        const moving = from.content.figures.filter((f) => f.id === figure);
        const figures = [...into.content.figures, ...moving];
        draft.edit("Move a picture to another step", [
          { id: into.id, after: { order: into.order, removed: false, content: { ...into.content, figures } } },
          { id, after: without(from, figure) },
        ]);
      },
      open: (figure) => latest.current.onOpen(figure),
      addPictures: (id) => latest.current.onAddPictures(id),
      dropPicture: (id, figure) => {
        const row = step(id);
        const shot = row.content.figures.find((f) => f.id === figure)?.shot;
        draft.edit("Delete a picture", [{ id, after: without(row, figure) }]);
        if (shot && uploads.get(shot)?.error) uploads.drop(shot);
      },
      settle: (id, choice) => draft.settle(id, choice),
    };
  }, [draft, uploads, notice, travel]);
}
