import { newID } from "../../base/api/id";
import { Problem } from "../../base/api/client";
import { bring } from "../capture/useInflow";

/** Takes what is seen at a moment of a recording as a shot of its own. */
export async function takeFrame(shot: string, at: number) {
  const answer = await fetch(`/api/shots/${encodeURIComponent(shot)}/clip/frame?at=${at}`);
  if (!answer.ok) throw new Problem(answer.status, "The frame can’t be had from the server now.");
  return bring(await answer.blob(), "file", new Date(), `Frame ${newID().slice(0, 4)}.png`);
}
