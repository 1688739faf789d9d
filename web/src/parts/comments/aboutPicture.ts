import type { CommentPlace } from "../../base/api/client";

/** What a comment on a picture is about, in words. */
export function aboutPicture(place: CommentPlace): string {
  if (!place.pin) return "About its picture";
  if (place.pin.lost) return "About a place of an earlier picture, which was not found in the new one";
  return place.pin.w || place.pin.h ? "About an area of its picture" : "About a place in its picture";
}
