/** A frame of what is shared, as the browser hands it over most cheaply. */
export type Frame = ImageBitmap | VideoFrame;

/** The size of a frame in pixels. */
export const sizeOf = (f: Frame) =>
  f instanceof ImageBitmap ? { w: f.width, h: f.height } : { w: f.displayWidth, h: f.displayHeight };
