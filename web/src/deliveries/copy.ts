import { api, expect } from "../api/client";

type As = "html" | "text" | "markdown";

const fetched = (document: string, as: As, steps?: string[]) =>
  expect(
    api.POST("/api/documents/{document}/copied", {
      params: { path: { document } },
      body: { as, ...(steps && { steps }) },
      parseAs: "text",
    }),
  );

/**
 * Puts a document, or some steps of it, on the clipboard: as rich text with its pictures and as plain text beside it, so
 * that whatever it is pasted into takes what it can; or as Markdown. The clipboard is asked at once, while the press
 * still counts.
 */
export async function copyDocument(document: string, as: "rich" | "markdown", steps?: string[]) {
  const blob = async (of: As, type: string) => new Blob([await fetched(document, of, steps)], { type });
  const data: Record<string, Promise<Blob>> = as === "rich"
    ? { "text/html": blob("html", "text/html"), "text/plain": blob("text", "text/plain") }
    : { "text/plain": blob("markdown", "text/plain") };
  await navigator.clipboard.write([new ClipboardItem(data)]);
  await Promise.all(Object.values(data)); // a refusal of the server is told as such
}
