import type { Size } from "../../base/core/core";
import type { Draft } from "./draft";
import type { Uploads } from "./uploads";

/** Where a shot's pixels are, and how far it has come. */
export type Picture = {
  name: string;
  size?: Size;
  preview: string;
  whole: string;
  progress?: number; // while it is on its way
  error?: string;
};

export function pictureOf(shot: string, draft: Draft, uploads: Uploads): Picture {
  const upload = uploads.get(shot);
  const arrived = draft.shots.get(shot);
  if (upload) {
    return {
      name: upload.name,
      size: upload.size,
      preview: uploads.address(shot),
      whole: uploads.address(shot),
      progress: upload.progress,
      error: upload.error,
    };
  }
  const whole = `/api/shots/${shot}`;
  return {
    name: arrived?.name ?? "picture",
    size: arrived && { w: arrived.width, h: arrived.height },
    preview: `${whole}/preview`,
    whole,
  };
}
