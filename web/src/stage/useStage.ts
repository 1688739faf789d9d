import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { local } from "../account/storage";
import type { Figure } from "../api/client";
import { core, fetchFaces, type Size, stage, type View } from "../core/core";
import { same, tidy } from "../manuscript/model";

const manners = "raconte-manners";
const painted = new WeakSet<View>();

/** Says that a view's shapes are on the page. */
export const wasPainted = (view: View) => void painted.add(view);

/** Changes that are undone in one go where they follow each other at once, as letters typed do. */
export const joins = (label: string) =>
  ["Write in a picture", "Describe a picture", "Nudge a mark", "Change the tone", "Straighten a picture"].includes(
    label,
  );

const drawn = (f: Figure | undefined) => f && { ...f, alt: "" };

/** The core's stage with one figure open, and its view. A finished change is handed on. */
export function useStage(
  figure: Figure | undefined,
  size: Size | undefined,
  first: number,
  onFigure: (figure: Figure, label: string) => void,
) {
  const [view, setView] = useState<View>();
  const shown = useRef(figure);
  const told = useRef(onFigure);
  useLayoutEffect(() => {
    told.current = onFigure;
  });

  // Views can follow each other faster than they are painted: shapes that are not on the page yet go along.
  const show = useCallback(
    (next: View) =>
      setView((before) => {
        const late = before && !painted.has(before) ? before : undefined;
        return {
          ...next,
          shapes: late ? [...late.shapes, ...next.shapes] : next.shapes,
          order: next.listed ? next.order : (before?.order ?? []),
          list: next.listed ? (next.list ?? []) : (before?.list ?? []),
          listed: next.listed || (late?.listed ?? false),
        };
      }),
    [],
  );

  const take = useCallback(
    (next: View, label = "Mark up a picture") => {
      show(next);
      if (!next.figure) return;
      const done = tidy(next.figure);
      shown.current = done;
      told.current(done, label);
      local.set(manners, JSON.stringify(stage.manners()));
    },
    [show],
  );

  const width = size?.w;
  const height = size?.h;
  const id = figure?.id;
  // Open the figure; again when it changed from outside, by an undo or a colleague. In the layout phase: later,
  // a drag that ends could have moved on from the figure that this still holds, and would be undone by it.
  const open = useRef("");
  const [opened, setOpened] = useState("");
  useLayoutEffect(() => {
    if (!figure || !id || !width || !height) return;
    const now = `${id} ${figure.shot} ${first}`;
    if (open.current === now && same(drawn(figure), drawn(shown.current))) return;
    const fresh = open.current !== now;
    if (open.current === "") stage.setManners(JSON.parse(local.taste(manners) ?? "{}") as object);
    open.current = now;
    shown.current = figure;
    const view = stage.open({ figure, shot: { w: width, h: height }, first });
    show(fresh ? stage.redraw() : view);
    if (fresh) setOpened(`${id} ${figure.shot}`);
  }, [figure, id, width, height, first, show]);

  const words = figure?.marks.map((m) => m.text ?? "").join("") ?? "";
  useEffect(() => {
    if (words && core.missing(words).length > 0) void fetchFaces(words).then((got) => got && show(stage.redraw()));
  }, [words, show]);

  return { view, show, take, opened };
}
