import { api, expect, type Taken, type WholeDocument } from "../api/client";
import { newID } from "../api/id";
import { reshoot } from "../stage/reshoot";

/** Gives the first picture of an answer a fresh shot; its marks go where their targets are. The answer is how many are unsure. */
export async function freshPicture(whole: WholeDocument, picture: Blob): Promise<number> {
  const block = whole.blocks.find((b) => b.content.figures.length > 0);
  const figure = block?.content.figures[0];
  if (!block || !figure) throw new Error("The answer has no picture that could be replaced.");
  const id = newID();
  const shot = await expect(
    api.PUT("/api/shots/{shot}", {
      params: { path: { shot: id }, query: { name: "fresh.png" } },
      body: picture as unknown as string,
      bodySerializer: (b) => b as unknown as Blob,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
  const next = (await reshoot(figure, { ...shot, taken: shot } as unknown as Taken))(figure);
  const figures = block.content.figures.map((f) => (f === figure ? { ...next, alt: figure.alt } : f));
  await expect(
    api.POST("/api/documents/{document}/changes", {
      params: { path: { document: whole.summary.id } },
      body: {
        id: newID(),
        blocks: [
          {
            id: block.id,
            base: block.version,
            order: block.order,
            removed: false,
            content: { ...block.content, figures },
          },
        ],
      },
    }),
  );
  return next.marks.filter((m) => m.lost ?? m.unsure).length;
}
