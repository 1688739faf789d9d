/** Whether a kind of documents answers questions. */
export const asksOf = (kind: string) => kind === "report" || kind === "request";

/** Whether a kind of documents is sent rather than released: it is never a draft. */
export const isSent = (kind: string) => asksOf(kind) || kind === "answer";
