import { useEffect, useState } from "react";

/** The pad mirrors the left hand's keys: twelve places, by physical position. Places without a tool stay empty. */
export const pad = [
  ["KeyQ", "arrow", "Arrow"],
  ["KeyW", "box", "Box"],
  null,
  null,
  ["KeyA", "text", "Text"],
  ["KeyS", "marker", "Marker"],
  null,
  null,
  null,
  null,
  ["KeyC", "crop", "Crop"],
  null,
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
