import { api, expect, type Figure, type Taken } from "../../base/api/client";
import { core } from "../../base/core/core";
import type { FigureChange } from "./change";

/**
 * What gives a figure another shot, its marks where the server found their targets; see core/reshoot. Marks that came
 * to it while the server looked are lost until someone moves them, and so are all of one that shows yet another shot by
 * then.
 */
export async function reshoot(figure: Figure, shot: Taken): Promise<FigureChange> {
  const found = await expect(
    api.POST("/api/shots/{shot}/targets", {
      params: { path: { shot: shot.id } },
      body: { from: figure.shot, marks: core.asked(figure) },
    }),
  );
  return (now) => core.reshot(now, shot.id, now.shot === figure.shot ? found : []);
}
