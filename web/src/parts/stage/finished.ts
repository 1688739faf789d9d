import { reasonOf } from "../../base/reason";
import { api, type Figure, problemOf } from "../../base/api/client";
import type { components } from "../../base/api/schema";

type Type = components["schemas"]["FinishWanted"]["type"];

export type FinishedPicture = { blob: Blob; width: number; share: number; letters: number };

/** The finished picture of a figure as it is on the page. */
export async function finish(
  figure: Figure,
  first: number,
  how: { type: Type; quality?: number; most?: number; name?: string },
): Promise<FinishedPicture> {
  const ask = () => api.POST("/api/finished", { body: { figure, first, ...how }, parseAs: "blob" });
  let answer = await ask();
  // A shot that was just pasted may still be on its way.
  for (let i = 0; answer.response.status === 404 && i < 20; i++) {
    await new Promise((done) => setTimeout(done, 250));
    answer = await ask();
  }
  const { data, error, response } = answer;
  if (!data) throw problemOf(response, error);
  const number = (name: string) => Number(response.headers.get(name) ?? 0);
  return {
    blob: data,
    width: number("X-Picture-Width"),
    share: number("X-Picture-Share"),
    letters: number("X-Picture-Letters"),
  };
}

/** Puts the finished picture on the clipboard and says how that went. */
export async function copyFinished(figure: Figure, first: number, say: (text: string) => void) {
  try {
    // The browser wants to hear of the picture while the key is still being pressed, before it is made.
    const picture = finish(figure, first, { type: "png" }).then((p) => p.blob);
    await navigator.clipboard.write([new ClipboardItem({ "image/png": picture })]);
    say("The finished picture is on the clipboard.");
  } catch (e) {
    say(`The picture was not copied: ${reasonOf(e)}`);
  }
}

export const endings: Record<string, string> = {
  "image/png": "png",
  "image/jpeg": "jpg",
  "image/webp": "webp",
  "image/gif": "gif",
  "application/pdf": "pdf",
};
