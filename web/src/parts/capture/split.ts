import { type Item, shots } from "../shots/shots";
import { studio } from "../../base/core/studio";
import type { Rect } from "../../base/api/client";

/** Makes a shot of each monitor that a picture spans. The whole picture can be brought back. */
export async function takeParts(item: Item, rects: Rect[]) {
  const blob = await shots.picture(item.id);
  const parts = await studio("parts", { blob, rects });
  const plain = item.name.replace(/\.[a-z]+$/i, "");
  for (const [i, part] of parts.entries()) {
    const about = { taken: item.about.taken, source: item.about.source, monitor: String(i + 1) };
    await shots.add({ ...part, about, name: `${plain}, monitor ${i + 1}.png` });
  }
  shots.split(item.id);
  if (item.taken) await shots.discard([item.id], true);
}
