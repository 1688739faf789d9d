import { browserOf } from "../../base/storage/browserOf";
import {
  api,
  type Block,
  type Content,
  expect,
  type Figure,
  type Taken,
  type WholeDocument,
} from "../../base/api/client";
import { core } from "../../base/core/core";
import { plain } from "../../base/api/content";

/** What is called so until it gets a title of its own. */
export const unnamed = { report: "A fault", request: "A question", answer: "An answer" };

export type ReportKind = "report" | "request" | "answer";

/** What the browser tells of itself, for whoever looks into a fault. Each can be taken out again before it goes. */
const browser = () => [
  { name: "Browser", value: browserOf(navigator.userAgent) },
  {
    name: "Screen",
    value: `${screen.width} × ${screen.height}${devicePixelRatio === 1 ? "" : `, at ${devicePixelRatio}`}`,
  },
  { name: "Language", value: navigator.language },
];

const nothing: Taken["about"] = { taken: new Date(0).toISOString(), source: "file" };

const passage = (asks: Content["asks"], words: Content["words"], figures: Figure[] = []): Content => ({
  type: "passage",
  asks,
  words,
  figures,
});

/**
 * Makes a report, a request or an answer, of a marked picture and of the steps of a run where there are any. Its title
 * is what the picture says of the fault. The answer is its address, where the first answer is being written.
 */
export async function beginReport(kind: ReportKind, shown?: { shot: Taken; figure: Figure }, steps: Content[] = []) {
  const fault = core.faultOf(
    shown?.shot.words ?? [],
    shown?.shot.about ?? nothing,
    browser(),
    shown && { figure: shown.figure, shot: { w: shown.shot.width, h: shown.shot.height } },
  );
  const figures = shown ? [shown.figure] : [];
  const blocks =
    kind === "report"
      ? [passage("happened", plain(""), figures), passage("where", fault.where), ...steps]
      : kind === "request"
        ? [passage("wrong", plain(""), figures), ...steps]
        : [{ type: "step" as const, words: plain(""), figures }, ...steps];
  const title = fault.title || unnamed[kind];
  return begun({ title, kind, blocks });
}

/** Reports that a step of a procedure does not work: the report shows the step, and each knows the other. */
export function reportStep(data: WholeDocument, step: Block) {
  const { summary } = data;
  const said = core.label(step.content);
  const known = [
    { name: "Procedure", value: [summary.number, summary.title].filter(Boolean).join(" ") },
    { name: "Revision", value: summary.said ?? "draft" },
    { name: "Step", value: `${step.number ?? ""} ${said}` },
    ...browser(),
  ];
  return begun({
    title: `Step ${step.number ?? ""} of “${summary.title}” fails`.slice(0, 200),
    kind: "report",
    blocks: [
      passage("happened", plain("")),
      passage("expected", step.content.words),
      passage("where", core.faultOf([], nothing, known).where),
    ].map((b) => (b.asks === "expected" ? { ...b, figures: step.content.figures } : b)),
    from: { document: summary.id, block: step.id },
  });
}

type Beginning = { title: string; kind: ReportKind; blocks: Content[]; from?: { document: string; block: string } };

async function begun(body: Beginning) {
  const made = await expect(api.POST("/api/documents", { body }));
  const whole = await expect(api.GET("/api/documents/{document}", { params: { path: { document: made.id } } }));
  return `/d/${made.id}/write?write=${whole.blocks[0]?.id ?? ""}`;
}
