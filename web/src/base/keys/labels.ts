import { useEffect, useState } from "react";

/** What is printed on the keys of this keyboard, where the browser tells. */
export function useKeyLabels(): (code: string) => string {
  const [map, setMap] = useState<Map<string, string>>();
  useEffect(() => {
    void navigator.keyboard?.getLayoutMap().then(setMap, () => undefined);
  }, []);
  return (code) => (map?.get(code) ?? code.slice(3)).toUpperCase();
}
