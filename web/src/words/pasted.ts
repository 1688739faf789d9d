import { generateJSON } from "@tiptap/core";
import type { Content } from "../api/client";
import { core } from "../core/core";
import { extensions, MarkerTags, toModel } from "./extensions";
import { Names } from "./refer";

/** What was copied from a page, a mail or a word processor, as words: what the text model has is kept. */
export function wordsOf(html: string): Content["words"] {
  const read = generateJSON(
    html,
    extensions(new MarkerTags({}), new Names({}), (href) => core.safeLink(href)),
  ) as Record<string, unknown>;
  return toModel(read) as unknown as Content["words"];
}
