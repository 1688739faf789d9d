import { api, expect, type Figure, type Mark, type Taken } from "../api/client";

const cropID = "crop";

/**
 * A figure with another shot: each mark is where its target is now, and the crop where what it showed has gone. Of the
 * marks some are unsure, for a person to confirm; some are lost, and stay as they were. Both say so themselves, and are
 * findings until a person has settled them.
 */
export async function reshoot(figure: Figure, shot: Taken): Promise<{ next: Figure; lost: number }> {
  const { crop } = figure;
  const asked: Mark[] = [...figure.marks];
  if (crop && !figure.quarter && !figure.mirror)
    asked.push({
      id: cropID,
      kind: "box",
      ink: "red",
      weight: "medium",
      points: [
        { x: crop.x, y: crop.y },
        { x: crop.x + crop.w, y: crop.y + crop.h },
      ],
    });
  const found = await expect(
    api.POST("/api/shots/{shot}/targets", {
      params: { path: { shot: shot.id } },
      body: { from: figure.shot, marks: asked },
    }),
  );
  const of = new Map(found.map((t) => [t.mark, t]));
  const [a, b] = of.get(cropID)?.points ?? [];
  const next: Figure = {
    ...figure,
    shot: shot.id,
    ...(crop && a && b && { crop: { x: a.x, y: a.y, w: b.x - a.x, h: b.y - a.y } }),
    marks: figure.marks.map((m) => ({
      ...m,
      points: of.get(m.id)?.points ?? m.points,
      lost: of.get(m.id)?.sure === "lost" || undefined,
      unsure: of.get(m.id)?.sure === "perhaps" || undefined,
    })),
  };
  return {
    next,
    lost: next.marks.filter((m) => m.lost).length,
  };
}
