import { useEffect, useState } from "react";

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

type Keyboard = { getLayoutMap(): Promise<Map<string, string>> };

/** What is printed on the keys of this keyboard, where the browser tells. */
export function useKeyLabels(): (code: string) => string {
  const [map, setMap] = useState<Map<string, string>>();
  useEffect(() => {
    const keyboard = (navigator as { keyboard?: Keyboard }).keyboard;
    void keyboard?.getLayoutMap().then(setMap, () => undefined);
  }, []);
  return (code) => (map?.get(code) ?? code.slice(3)).toUpperCase();
}
