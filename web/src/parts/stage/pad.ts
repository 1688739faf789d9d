/**
 * The pad mirrors the left hand's keys: twelve places, by physical position. The first row points, the second says,
 * the third treats the picture.
 */
export const pad = [
  ["KeyQ", "arrow", "Arrow"],
  ["KeyW", "box", "Box"],
  ["KeyE", "ellipse", "Ellipse"],
  ["KeyR", "line", "Line"],
  ["KeyA", "text", "Text"],
  ["KeyS", "marker", "Marker"],
  ["KeyD", "note", "Note"],
  ["KeyF", "pen", "Pen"],
  ["KeyZ", "concealment", "Conceal"],
  ["KeyX", "highlight", "Highlight"],
  ["KeyC", "crop", "Crop"],
  ["KeyV", "detail", "Detail"],
] as const;
