import type { Content, Figure } from "./client";

export const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);

/**
 * JSON in one order of keys, so that what went over the network compares equal. What is in order already is given
 * back itself: pictures are not drawn anew because words beside them were written.
 */
export function tidy<T>(value: T): T {
  if (Array.isArray(value)) {
    const all = value.map(tidy);
    return all.every((v, n) => v === value[n]) ? value : (all as T);
  }
  if (value && typeof value === "object") {
    const before = Object.entries(value);
    const entries = before.filter(([, v]) => v !== undefined).map(([k, v]) => [k, tidy(v)] as const);
    entries.sort(([a], [b]) => (a < b ? -1 : 1));
    const same =
      entries.length === before.length && entries.every(([k, v], n) => k === before[n]?.[0] && v === before[n]?.[1]);
    return same ? value : (Object.fromEntries(entries) as T);
  }
  return value;
}

export const emptySection = (): Content => tidy({ ...emptyStep(), type: "section", level: 1 });

export const emptyPassage = (): Content => tidy({ ...emptyStep(), type: "passage" });

/** A step that hands over to a procedure, or a chapter that is one. */
export const leadingTo = (type: "step" | "chapter", document: string): Content =>
  tidy({ ...emptyStep(), type, document });

/** Content with other figures; itself where none is another. */
export function withFigures(content: Content, change: (figure: Figure) => Figure): Content {
  const figures = content.figures.map(change);
  return figures.every((f, i) => f === content.figures[i]) ? content : { ...content, figures };
}

/** One line of words. */
export const plain = (text: string): Content["words"] =>
  tidy({ type: "doc", content: [{ type: "paragraph", ...(text && { content: [{ type: "text", text }] }) }] });

/** Content with more said at its end: a paragraph for each line. */
export function saying(content: Content, text: string): Content {
  const before = content.words.content ?? [];
  const empty = before.length === 1 && before[0]?.type === "paragraph" && !before[0].content?.length;
  const lines = text.split("\n").filter((line) => line.trim());
  const more = lines.flatMap((line) => plain(line.replaceAll("\t", "  ").trim()).content ?? []);
  return { ...content, words: { ...content.words, content: [...(empty ? [] : before), ...more] } };
}

export const emptyStep = (): Content =>
  tidy({
    type: "step",
    words: plain(""),
    figures: [],
  });
