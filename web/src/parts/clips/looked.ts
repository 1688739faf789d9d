import { api, type Making, Problem, type Rect, type Span } from "../../base/api/client";
import type { components } from "../../base/api/schema";

type Moved = components["schemas"]["Moved"];

const often = 400; // milliseconds between questions

/** Asks until what is looked for in a recording was found. */
async function until<T>(
  ask: () => Promise<{ data?: T | Making; error?: { message: string }; response: Response }>,
  signal?: AbortSignal,
): Promise<T> {
  for (;;) {
    const { data, error, response } = await ask();
    if (response.status === 200) return data as T;
    if (response.status !== 202) throw new Problem(response.status, error?.message ?? "");
    await new Promise((done) => setTimeout(done, often));
    signal?.throwIfAborted();
  }
}

/** Where nothing moves in a recording. */
export const stillsOf = (shot: string, signal?: AbortSignal) =>
  until<Span[]>(() => api.GET("/api/shots/{shot}/clip/stills", { params: { path: { shot } }, signal }), signal);

/** Where a part of what is seen at a moment is at every other. */
export const followed = (shot: string, at: number, part: Rect) =>
  until<Moved[]>(() => api.POST("/api/shots/{shot}/clip/follow", { params: { path: { shot } }, body: { at, part } }));
