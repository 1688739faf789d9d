import { local } from "../../base/storage/local";
import { api, expect, type Figure, type Making } from "../../base/api/client";
import { isKeyOf } from "../../base/typed";

export type ClipForm = "mp4" | "webm" | "gif" | "webp";

export const clipForms: Record<ClipForm, string> = { mp4: "MP4", webm: "WebM", gif: "GIF", webp: "WebP" };

const chosenForm = "raconte-clip-form";

/** The form that a person chose last; undefined where none was. */
export function lastForm(): ClipForm | undefined {
  const form = local.taste(chosenForm) ?? "";
  return isKeyOf(clipForms, form) ? form : undefined;
}

export const keepForm = (form: ClipForm) => local.set(chosenForm, form);

const often = 400; // milliseconds between questions

/** Where a finished clip can be had, once it is made; told tells how far it is, as a share. */
export async function makeClip(
  figure: Figure,
  first: number,
  form: ClipForm,
  most: number,
  told: (share: number) => void,
  gone?: () => boolean,
): Promise<string> {
  for (;;) {
    const made: Making = await expect(api.POST("/api/clips", { body: { figure, first, form, most } }));
    if (made.key) return `/api/clips/${made.key}?form=${form}`;
    if (made.error) throw new Error(made.error);
    told(made.total > 0 ? made.done / made.total : 0);
    await new Promise((done) => setTimeout(done, often));
    if (gone?.()) throw new DOMException("Not wanted any more", "AbortError");
  }
}
