import { api, type Content, expect, type Figure } from "../../base/api/client";
import { core } from "../../base/core/core";
import { readFigure } from "../../base/storage/upgrade";
import { clipOf } from "../clips/time";
import { beginReport } from "../reports/begin";
import { settings } from "../shots/settings";
import type { Item } from "../shots/shots";
import { studio } from "../../base/core/studio";

/** Steps that are on their way into a document, with the shots they show. */
export type Placing = { document: string; after: number; steps: Content[]; shots: Item[] };

let placing: Placing | undefined;

/** Makes steps of shots: words of what was done, the crop that was meant, marks made without a document. */
export async function stepsOf(items: Item[]): Promise<Content[]> {
  return finished(core.stepsOf(takenOf(items), settings()), items);
}

const takenOf = (items: Item[]) =>
  items.map((i) => ({ shot: i.id, size: { w: i.width, h: i.height }, about: i.about }));

/** Blocks with the marks that were made before, and boxes in an ink that stands out. */
function finished(made: ({ id: string } & Content)[], items: Item[]): Promise<Content[]> {
  return Promise.all(
    made.map(async ({ type, level, seconds, words, figures }) => ({
      type,
      level,
      seconds,
      words,
      figures: await Promise.all(
        figures.map(async (f) => {
          const marked = await readFigure(f.shot);
          if (marked) return { ...marked.figure, id: f.id };
          const item = items.find((i) => i.id === f.shot);
          const clip = item?.taken?.clip;
          const made = inked(f, item?.width ?? 1);
          return clip ? { ...(await made), clip: clipOf(clip) } : made;
        }),
      ),
    })),
  );
}

/**
 * Makes a procedure of a run at once: without its repeats, under the headings and the title that are proposed. The
 * answer is its address.
 */
export async function writeUp(items: Item[], fallback: string): Promise<string> {
  const kept = items.filter((i) => i.taken?.verdict !== "same");
  const shots = takenOf(kept);
  const title = (core.titleOf(shots) || fallback).slice(0, 200);
  const steps = await finished(core.writeUp(shots, settings()), kept);
  const { id } = await expect(api.POST("/api/documents", { body: { title } }));
  place({ document: id, after: 0, steps, shots: kept });
  return `/d/${id}/write`;
}

/**
 * Makes a bug report of a run: its last shot shows what happened, and all of it, without repeats, is how it happens
 * again. The answer is its address.
 */
export async function reportRun(items: Item[]): Promise<string> {
  const kept = items.filter((i) => i.taken?.verdict !== "same");
  const steps = (await stepsOf(kept)).filter((c) => c.type === "step");
  const figure = steps.at(-1)?.figures[0];
  const shot = kept.at(-1)?.taken;
  return beginReport("report", shot && figure && { shot, figure }, steps);
}

/** Hands steps to the document that is opened next. */
export function place(p: Placing) {
  placing = p;
}

/** What is to be placed in a document, once. */
export function takePlacing(document: string): Placing | undefined {
  if (placing?.document !== document) return undefined;
  const p = placing;
  placing = undefined;
  return p;
}

/** The boxes of a figure in the ink that stands out best from the picture. */
async function inked(figure: Figure, width: number): Promise<Figure> {
  const box = figure.marks.find((m) => m.kind === "box");
  const [a, b] = box?.points ?? [];
  if (!a || !b) return figure;
  try {
    const blob = await (await fetch(`/api/shots/${encodeURIComponent(figure.shot)}/preview`)).blob();
    const frame = { x: a.x, y: a.y, w: b.x - a.x, h: b.y - a.y };
    const ink = await studio("ink", { blob, frame, width });
    return { ...figure, marks: figure.marks.map((m) => (m.kind === "box" ? { ...m, ink } : m)) };
  } catch {
    return figure; // the picture can't be had now: the first ink is as good as any
  }
}
