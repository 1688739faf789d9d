import { api, expect } from "../../base/api/client";

type As = "html" | "text" | "markdown";

/** How an answer is copied: without its title, its places filled in, and with a link after its text. */
type Answer = { bare: boolean; fill: Record<string, string>; after?: string };

const fetched = async (document: string, as: As, steps?: string[], answer?: Answer) => {
  const { after, ...rest } = answer ?? {};
  const text = await expect(
    api.POST("/api/documents/{document}/copied", {
      params: { path: { document } },
      body: { as, ...(steps && { steps }), ...rest },
      parseAs: "text",
    }),
  );
  return after ? `${text}\n${after}\n` : text;
};

/**
 * Puts a document, or some steps of it, on the clipboard: as rich text with its pictures and as plain text beside it,
 * so that whatever it is pasted into takes what it can; or as Markdown. The clipboard is asked at once, while the press
 * still counts.
 */
export async function copyDocument(
  document: string,
  as: "rich" | "plain" | "markdown",
  steps?: string[],
  answer?: Answer,
  saved?: Promise<unknown>,
) {
  const blob = async (of: As, type: string) => {
    await saved; // the server copies what it has
    return new Blob([await fetched(document, of, steps, answer)], { type });
  };
  const data: Record<string, Promise<Blob>> = as === "rich"
    ? { "text/html": blob("html", "text/html"), "text/plain": blob("text", "text/plain") }
    : { "text/plain": blob(as === "plain" ? "text" : "markdown", "text/plain") };
  await navigator.clipboard.write([new ClipboardItem(data)]);
  await Promise.all(Object.values(data)); // a refusal of the server is told as such
}
