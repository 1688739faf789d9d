import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { local } from "../../base/storage/local";
import type { Figure } from "../../base/api/client";
import { core, fetchFaces, type Size, type View } from "../../base/core/core";
import { same, tidy } from "../../base/api/content";
import { openStage, type StageCore } from "./core";
import type { Pixels } from "./paint";
import { Painting } from "./painting";
import { parsed } from "../../base/typed";

const manners = "raconte-manners";

/** Changes that are undone in one go where they follow each other at once, as letters typed do. */
export const joins = (label: string) =>
  [
    "Write in a picture",
    "Describe a picture",
    "Nudge a mark",
    "Change the tone",
    "Change colours",
    "Straighten a picture",
  ].includes(label);

const drawn = (f: Figure | undefined) => f && { ...f, alt: "" };

/** A view without its shapes, which are on the painting already. */
export type Seen = Omit<View, "shapes">;

/** A stage of the core's with one figure open, its painting, and its view. A finished change is handed on. */
export function useStage(
  figure: Figure | undefined,
  size: Size | undefined,
  first: number,
  pixels: Pixels,
  onFigure: (figure: Figure, label: string) => void,
) {
  const [stage, setStage] = useState<StageCore>();
  const [painting] = useState(() => new Painting(pixels));
  const [view, setView] = useState<Seen>();
  const shown = useRef(figure);
  const told = useRef(onFigure);
  useLayoutEffect(() => {
    told.current = onFigure;
  });
  useLayoutEffect(() => painting.look(pixels), [painting, pixels]);
  const open = useRef("");
  useLayoutEffect(() => {
    const made = openStage();
    made.setManners(parsed<object>(local.taste(manners) ?? "{}"));
    setStage(made);
    return () => {
      made.close();
      open.current = "";
    };
  }, []);

  const show = useCallback(
    (next: View) => {
      painting.take(next);
      const { shapes, ...seen } = next;
      void shapes; // on the painting already
      setView((before) => ({
        ...seen,
        order: next.listed ? next.order : (before?.order ?? []),
        list: next.listed ? (next.list ?? []) : (before?.list ?? []),
      }));
    },
    [painting],
  );

  const take = useCallback(
    (next: View, label = "Mark the picture") => {
      show(next);
      if (!next.figure || !stage) return;
      const done = tidy(next.figure);
      shown.current = done;
      told.current(done, label);
      local.set(manners, JSON.stringify(stage.manners()));
    },
    [show, stage],
  );

  const width = size?.w;
  const height = size?.h;
  const id = figure?.id;
  // Open the figure; again when it changed from outside, by an undo or a colleague. In the layout phase: later,
  // a drag that ends could have moved on from the figure that this still holds, and would be undone by it.
  const [opened, setOpened] = useState("");
  useLayoutEffect(() => {
    if (!stage || !figure || !id || !width || !height) return;
    const now = `${id} ${figure.shot} ${first}`;
    if (open.current === now && same(drawn(figure), drawn(shown.current))) return;
    const fresh = open.current !== now;
    open.current = now;
    shown.current = figure;
    const view = stage.open({ figure, shot: { w: width, h: height }, first });
    show(fresh ? stage.redraw() : view);
    if (fresh) setOpened(`${id} ${figure.shot}`);
  }, [stage, figure, id, width, height, first, show]);

  const words = figure?.marks.map((m) => m.text ?? "").join("") ?? "";
  useEffect(() => {
    if (stage && words && core.missing(words).length > 0)
      void fetchFaces(words).then((got) => got && show(stage.redraw()));
  }, [stage, words, show]);

  return { stage, painting, view, show, take, opened };
}
