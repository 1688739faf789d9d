import { api, expect, type Figure, type Taken } from "../api/client";
import { core } from "../core/core";

/** A figure with another shot, its marks where the server finds their targets; see core/reshoot. */
export async function reshoot(figure: Figure, shot: Taken): Promise<Figure> {
  const found = await expect(
    api.POST("/api/shots/{shot}/targets", {
      params: { path: { shot: shot.id } },
      body: { from: figure.shot, marks: core.asked(figure) },
    }),
  );
  return core.reshot(figure, shot.id, found);
}
