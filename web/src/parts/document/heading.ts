import type { Content } from "../../base/api/client";

type Words = Content["words"];
type Node = { text?: string; content?: Node[] };

/** The words of a heading in one line. */
export const headingText = (words: Words): string => {
  const read = (n: Node): string => n.text ?? (n.content ?? []).map(read).join("");
  return read(words);
};

/** A heading as words. */
export const headingOf = (text: string): Words => ({
  type: "doc",
  content: [{ type: "paragraph", ...(text && { content: [{ type: "text", text }] }) }],
});
