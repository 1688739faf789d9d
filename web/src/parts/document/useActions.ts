import { useEffect, useMemo, useRef } from "react";
import type { Content } from "../../base/api/client";
import { core } from "../../base/core/core";
import { useNotice } from "../../base/ui/notices";
import type { Draft } from "./draft";
import { emptyPassage, emptySection, emptyStep } from "../../base/api/content";
import type { Row } from "./model";
import type { Uploads } from "./uploads";
import type { Travel } from "./useUndo";
import { sure } from "../../base/typed";

/** What a person can do to a step. They stay the same for as long as the document is open. */
export type StepActions = {
  change: (id: string, label: string, change: (content: Content) => Content, joins?: boolean) => void;
  /** Keeps words as they are typed. */
  type: (id: string, words: Content["words"]) => void;
  insert: (at: number) => void;
  section: (at: number) => void;
  passage: (at: number) => void;
  /** Asks for a procedure that a step hands over to, or, before a position, that becomes a chapter. */
  link: (what: Linked) => void;
  /** Asks for a web link or a film beside a block. */
  webLink: (id: string) => void;
  /** Divides a step's words in two steps; the caret goes to the second. */
  divide: (id: string, before: Content["words"], behind: Content["words"]) => void;
  /** Joins a step with the one above. */
  join: (id: string) => void;
  eachLine: (id: string) => void;
  /** Moves a section with its steps past the section before or after it. */
  moveSection: (id: string, by: -1 | 1) => void;
  move: (id: string, to: number) => void;
  remove: (id: string) => void;
  merge: (id: string, figure: string, into: string) => void;
  open: (figure: string) => void;
  addPictures: (step: string) => void;
  /** Leads to Capture, whose next shot goes into the step. */
  capture: (step: string) => void;
  dropPicture: (step: string, figure: string) => void;
  settle: (id: string, choice: "mine" | "theirs") => void;
};

/** What a procedure is chosen for. */
export type Linked = { block: string } | { before: number };

export function useActions(props: {
  draft: Draft;
  uploads: Uploads;
  travel: Travel;
  onWriting: (id: string | undefined) => void;
  onSection: (id: string) => void;
  onOpen: (figure: string) => void;
  onAddPictures: (block: string) => void;
  onCapture: (step: string) => void;
  onLink: (what: Linked) => void;
  onWebLink: (id: string) => void;
}): StepActions {
  const { draft, uploads, travel } = props;
  const notice = useNotice();
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  return useMemo<StepActions>(() => {
    const step = (id: string) => sure(draft.blocks().find((r) => r.id === id));
    /** What is left of a step without a picture; nothing where it had nothing else. */
    const without = ({ content }: Row, figure: string) =>
      core.empty(content.words) && content.figures.length === 1 && !content.document
        ? undefined
        : { ...content, figures: content.figures.filter((f) => f.id !== figure) };
    return {
      change: (id, label, change, joins) => draft.patch(label, [id], (r) => change(r.content), joins),
      type: (id, words) => draft.type(id, words),
      insert: (at) => latest.current.onWriting(draft.insert("Add a step", at, [emptyStep()])[0]),
      section: (at) => {
        const [id] = draft.insert("Begin a section", at, [emptySection()]);
        if (id) latest.current.onSection(id);
      },
      passage: (at) => latest.current.onWriting(draft.insert("Add a passage", at, [emptyPassage()])[0]),
      link: (what) => latest.current.onLink(what),
      webLink: (id) => latest.current.onWebLink(id),
      divide: (id, before, behind) => {
        const at = draft.blocks().findIndex((r) => r.id === id);
        const content = { ...step(id).content, words: before };
        const [made] = draft.replace("Divide a step", at, [content, { ...emptyStep(), words: behind }]);
        latest.current.onWriting(made);
      },
      join: (id) => {
        const rows = draft.blocks();
        const at = rows.findIndex((r) => r.id === id);
        const [above, below] = [rows[at - 1], rows[at]];
        if (!above || !below) return;
        const { content, why } = core.join(above.content, below.content);
        if (why) return notice({ text: why });
        draft.patch("Join two steps", [above.id, id], (r) => (r.id === id ? undefined : content));
      },
      eachLine: (id) => {
        const at = draft.blocks().findIndex((r) => r.id === id);
        draft.replace("Make a step of each line", at, core.eachLine(step(id).content));
      },
      moveSection: (id, by) => {
        const rows = draft.blocks();
        const from = rows.findIndex((r) => r.id === id);
        const span = core.span(rows, from);
        if (by > 0) {
          const next = from + span;
          if (next < rows.length) draft.move(id, next + core.span(rows, next) - 1);
          return;
        }
        // Past the section that ends here, or past one step where none does.
        const before = rows.findIndex(
          (r, i) => i < from && r.content.type === "section" && i + core.span(rows, i) === from,
        );
        if (from > 0) draft.move(id, before >= 0 ? before : from - 1);
      },
      move: (id, to) => draft.move(id, to),
      remove: (id) => {
        const { type } = step(id).content;
        draft.remove(id);
        const text =
          type === "section" ? "The heading is deleted; its steps are still there." : `The ${type} is deleted.`;
        notice({ text, action: { label: "Undo", run: () => travel("undo") } });
      },
      merge: (id, figure, to) => {
        const moving = step(id).content.figures.filter((f) => f.id === figure);
        draft.patch("Move a picture to another step", [id, to], (r) =>
          r.id === id ? without(r, figure) : { ...r.content, figures: [...r.content.figures, ...moving] },
        );
      },
      open: (figure) => latest.current.onOpen(figure),
      addPictures: (id) => latest.current.onAddPictures(id),
      capture: (id) => latest.current.onCapture(id),
      dropPicture: (id, figure) => {
        const row = step(id);
        const shot = row.content.figures.find((f) => f.id === figure)?.shot;
        draft.patch("Delete a picture", [id], (r) => without(r, figure));
        if (shot && uploads.get(shot)?.error) uploads.drop(shot);
      },
      settle: (id, choice) => draft.settle(id, choice),
    };
  }, [draft, uploads, notice, travel]);
}
