import type { CommentPlace } from "../../base/api/client";
import type { Choice } from "../../base/ui/controls";
import type { Row } from "../../parts/document/model";
import type { StepActions } from "../../parts/document/useActions";
import type { Desk } from "./desk";
import { emptyNotice } from "./NoticeEditor";

type Commenter = ((place: CommentPlace) => void) | undefined;

/** What can be done to a step or a passage. Joins: the block above is a step. */
export function stepMenu(
  { actions, inManual, onChoose }: Desk,
  { row, index, count, joins }: { row: Row; index: number; count: number; joins: boolean },
  comment: Commenter,
): Choice[] {
  const { content } = row;
  const isStep = content.type === "step";
  return [
    ...(inManual ? [] : [{ label: "Add a step above", run: () => actions.insert(index) }]),
    ...(inManual ? [] : [{ label: "Add a step below", run: () => actions.insert(index + 1) }]),
    { label: "Add a passage above", run: () => actions.passage(index) },
    { label: "Begin a section here", run: () => actions.section(index) },
    "line",
    { label: `Add pictures to this ${content.type}`, run: () => actions.addPictures(row.id) },
    { label: `Take a shot for this ${content.type}`, run: () => actions.capture(row.id) },
    ...(isStep && !content.notice
      ? [
          {
            label: "Warn before this step",
            run: () => actions.change(row.id, "Add a notice", (c) => ({ ...c, notice: emptyNotice })),
          },
        ]
      : []),
    ...(isStep
      ? [
          {
            label: content.critical ? "It is not critical" : "It is a critical step",
            run: () =>
              actions.change(row.id, "Say whether a step is critical", (c) => ({
                ...c,
                critical: content.critical ? undefined : true,
              })),
          },
          { label: "Do another procedure here", run: () => actions.link({ block: row.id }) },
        ]
      : []),
    { label: `Comment on this ${content.type}`, run: () => comment?.({ block: row.id }) },
    ...content.figures.map((f, i) => ({
      label: content.figures.length > 1 ? `Comment on picture ${i + 1}` : "Comment on its picture",
      run: () => comment?.({ block: row.id, figure: f.id }),
    })),
    { label: "Put a web link or a film beside it", run: () => actions.webLink(row.id) },
    "line",
    ...(joins ? [{ label: "Join with the step above", run: () => actions.join(row.id) }] : []),
    ...(row.content.words.content?.length !== 1 || row.content.words.content[0]?.type !== "paragraph"
      ? [{ label: "Make a step of each line", run: () => actions.eachLine(row.id) }]
      : []),
    "line",
    ...(index > 0 ? [{ label: "Move up", run: () => actions.move(row.id, index - 1) }] : []),
    ...(index < count - 1 ? [{ label: "Move down", run: () => actions.move(row.id, index + 1) }] : []),
    "line",
    ...(inManual
      ? []
      : [
          {
            label: `Turn into a ${isStep ? "passage" : "step"}`,
            run: () =>
              actions.change(row.id, "Turn a block into another", (c) => ({
                ...c,
                type: isStep ? "passage" : "step",
                ...(isStep && { notice: undefined, critical: undefined, document: undefined, seconds: undefined }),
              })),
          },
        ]),
    { label: `Choose this ${content.type}`, run: () => onChoose(row.id, false) },
    "line",
    { label: `Delete ${content.type}`, run: () => actions.remove(row.id), danger: true },
  ];
}

/** What can be done to an answer, which stays where it is. */
export function answerMenu(row: Row, actions: StepActions, comment: Commenter): Choice[] {
  return [
    { label: "Add pictures here", run: () => actions.addPictures(row.id) },
    { label: "Take a shot for it", run: () => actions.capture(row.id) },
    { label: "Comment on it", run: () => comment?.({ block: row.id }) },
    { label: "Put a web link or a film beside it", run: () => actions.webLink(row.id) },
  ];
}
