/** Whether a kind of documents answers questions. */
export const asksOf = (kind: string) => kind === "report" || kind === "request";

/** Whether a kind of documents is sent rather than released: it is never a draft. */
export const isSent = (kind: string) => asksOf(kind) || kind === "answer";

/** How far a document has come, in words. */
export function stateSaid(kind: string, state: string, revision: number, said?: string) {
  const called = said ?? revision;
  if (state === "retired") return "Retired";
  if (state === "ready") return `Ready, revision ${called}`;
  if (isSent(kind)) return "";
  return revision > 0 ? `Draft after revision ${called}` : "Draft";
}

/** Where a document is opened from the library. */
export const placeOf = (d: { id: string; kind: string }, edits: boolean) =>
  edits && d.kind !== "filed" ? `/d/${d.id}/write` : `/d/${d.id}`;
