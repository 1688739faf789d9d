import { reasonOf } from "../../base/reason";
import { type Item, shots } from "../shots/shots";
import { sizeOf } from "../../base/core/frame";
import { studio } from "../../base/core/studio";
import { sure } from "../../base/typed";

/** Joins shots of a page that was scrolled between them into one long shot. The parts stay. */
export async function joinAsPage(items: Item[]) {
  await studio("forget", {});
  try {
    for (const item of items) {
      const frame = await createImageBitmap(await shots.picture(item.id));
      await studio("part", { frame, rect: { x: 0, y: 0, ...sizeOf(frame) } }, [frame]);
    }
    const made = await studio("stitch", {});
    const first = sure(items[0]);
    const about = { taken: new Date().toISOString(), source: first.about.source, window: first.about.window };
    await shots.add({ ...made, about });
  } catch (e) {
    await studio("forget", {});
    throw new Error(`They could not be joined: ${reasonOf(e)}.`);
  }
}
