import type { Figure } from "../../base/api/client";

// Who suggests another look of a picture draws it on its ground: what the picture shows of its shot, with what conceals
// and what is set in already in it.

const grounds = ["concealment", "patch", "inset"];

export const groundAddress = (document: string, figure: string, seq: number) =>
  `/api/documents/${encodeURIComponent(document)}/figures/${encodeURIComponent(figure)}/ground?at=${seq}`;

/** A figure as it is drawn on a ground. */
export const onGround = (f: Figure): Figure => ({ ...f, marks: f.marks.filter((m) => !grounds.includes(m.kind)) });

/** A figure that was drawn on the ground of another, with what that conceals. */
export const offGround = (drawn: Figure, of: Figure): Figure => ({
  ...drawn,
  marks: [...of.marks.filter((m) => grounds.includes(m.kind)), ...drawn.marks],
});
