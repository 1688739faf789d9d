import { type RefObject, useCallback, useEffect } from "react";
import type { Content } from "../../base/api/client";
import { core } from "../../base/core/core";
import { takeInto } from "../../parts/capture/into";
import { takePlacing } from "../../parts/capture/placing";
import type { Draft } from "../../parts/document/draft";
import type { Row } from "../../parts/document/model";
import type { Item } from "../../parts/shots/shots";
import type { PageHandle } from "./Page";
import { useUnplaced } from "./ToPlace";

/** Shots that come into a document: from a session, straight from Capture, and those that lie beside the manuscript. */
export function useShotsIn(
  id: string,
  draft: Draft,
  rows: Row[],
  writing: string | undefined,
  page: RefObject<PageHandle | null>,
) {
  const bring = useCallback(
    (steps: Content[], items: Item[], at: number) => {
      items.forEach((i) => draft.shotArrived({ id: i.id, name: i.name, width: i.width, height: i.height }));
      const label = steps.length === 1 ? "Place a shot" : `Place ${steps.length} shots`;
      const [first] = draft.insert(label, at, steps);
      if (first) requestAnimationFrame(() => page.current?.show(first));
    },
    [draft, page],
  );
  useEffect(() => {
    const p = takePlacing(id);
    if (p) bring(p.steps, p.shots, p.after);
  }, [id, bring]);
  useEffect(() => {
    const taken = takeInto(id);
    if (!taken) return;
    const { content, item } = taken;
    draft.shotArrived({ id: item.id, name: item.name, width: item.width, height: item.height });
    draft.patch("Take a shot for a step", [taken.step], (step) => ({
      ...step.content,
      words: core.empty(step.content.words) ? content.words : step.content.words,
      figures: [...step.content.figures, ...content.figures],
    }));
  }, [id, draft]);
  return useUnplaced(rows, (steps, items, at) => {
    const here = rows.findIndex((r) => r.id === writing);
    bring(steps, items, at ?? (here >= 0 ? here + 1 : rows.length));
  });
}
