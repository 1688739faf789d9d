import { browserOf } from "../account/browserOf";
import { api, type Content, expect, type Figure, type Taken } from "../api/client";
import { core } from "../core/core";
import { plain } from "../manuscript/model";

export type ReportKind = "report" | "request";

/** What the browser tells of itself, for whoever looks into a fault. Each can be taken out again before it goes. */
const browser = () => [
  { name: "Browser", value: browserOf(navigator.userAgent) },
  {
    name: "Screen",
    value: `${screen.width} × ${screen.height}${devicePixelRatio === 1 ? "" : `, at ${devicePixelRatio}`}`,
  },
  { name: "Language", value: navigator.language },
];

const nothing = { taken: new Date(0).toISOString(), source: "file" } as Taken["about"];

const passage = (asks: Content["asks"], words: Content["words"], figures: Figure[] = []): Content => ({
  type: "passage",
  asks,
  words,
  figures,
});

/**
 * Makes a report or a request, of a marked picture and of the steps of a run where there are any. Its title is what the
 * picture says of the fault. The answer is its address, where the first answer is being written.
 */
export async function beginReport(kind: ReportKind, shown?: { shot: Taken; figure: Figure }, steps: Content[] = []) {
  const fault = core.faultOf(shown?.shot.words ?? [], shown?.shot.about ?? nothing, browser());
  const figures = shown ? [shown.figure] : [];
  const blocks =
    kind === "report"
      ? [passage("happened", plain(""), figures), passage("where", fault.where), ...steps]
      : [passage("wrong", plain(""), figures), ...steps];
  const title = fault.title || (kind === "report" ? "A fault" : "A question");
  const made = await expect(api.POST("/api/documents", { body: { title, kind, blocks } }));
  const whole = await expect(api.GET("/api/documents/{document}", { params: { path: { document: made.id } } }));
  return `/d/${made.id}/write?write=${whole.blocks[0]?.id ?? ""}`;
}
