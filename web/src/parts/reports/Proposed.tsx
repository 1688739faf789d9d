import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { core } from "../../base/core/core";
import type { Draft } from "../document/draft";
import { unnamed } from "./begin";
import { isKeyOf } from "../../base/typed";

/**
 * Gives a report that has no title yet the one that its picture says, as soon as that was read; where it says none, the
 * first line of what was written. It is undone like anything else, and not given again.
 */
export function Proposed({ draft }: { draft: Draft }) {
  const rows = draft.blocks();
  const figure = rows.find((r) => r.content.figures.length > 0)?.content.figures[0];
  const shot = figure?.shot;
  const wanted =
    isKeyOf(unnamed, draft.kind) &&
    draft.title === unnamed[draft.kind] &&
    !draft.canUndo()?.startsWith("Change the title");
  const about = useQuery({
    ...ask("/api/shots/{shot}/about", { path: { shot: shot ?? "" } }),
    enabled: wanted && shot !== undefined,
  });
  // Who asks for the words has them read at once.
  const read = useQuery({
    ...ask("/api/shots/{shot}/words", { path: { shot: shot ?? "" } }),
    enabled: wanted && shot !== undefined,
    refetchInterval: ({ state }) => (state.data?.reading ? 2000 : false),
  });
  const taken = about.data;
  const seen =
    wanted && figure && taken && read.data && !read.data.reading
      ? core.faultOf(read.data.words, taken.about, [], { figure, shot: { w: taken.width, h: taken.height } }).title
      : "";
  const first = rows[0];
  const written = first && !core.empty(first.content.words) ? core.label(first.content) : "";
  const settled = shot === undefined || (read.data !== undefined && !read.data.reading) || read.isError;
  useEffect(() => {
    if (!wanted) return;
    if (seen) return draft.rename(seen.slice(0, 200));
    const writing = document.activeElement?.closest<HTMLElement>("[data-block]")?.dataset.block;
    if (settled && written && writing !== first?.id) draft.rename(written.slice(0, 200));
  });
  return null;
}
