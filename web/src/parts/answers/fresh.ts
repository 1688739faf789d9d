import { bytes } from "../../base/api/bytes";
import { api, expect, type Taken, type WholeDocument } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { reshoot } from "../stage/reshoot";

/**
 * Gives the first picture of an answer a fresh shot; its marks go where their targets are. An answer without a picture
 * gets one. The answer is how many marks are unsure.
 */
export async function freshPicture(whole: WholeDocument, picture: Blob): Promise<number> {
  const block =
    whole.blocks.find((b) => b.content.figures.length > 0) ?? whole.blocks.find((b) => b.content.type !== "section");
  if (!block) throw new Error("The answer is empty. Write it first, then paste the picture.");
  const figure = block.content.figures[0];
  const id = newID();
  const shot = await expect(
    api.PUT("/api/shots/{shot}", {
      params: { path: { shot: id }, query: { name: "fresh.png" } },
      ...bytes(picture),
    }),
  );
  const next = figure
    ? { ...(await reshoot(figure, { ...shot, taken: shot } as unknown as Taken))(figure), alt: figure.alt }
    : { id: newID(), shot: shot.id, alt: "", marks: [] };
  const figures = [next, ...block.content.figures.slice(1)];
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
