import { useEffect } from "react";

/** Names the screen in the browser's title, so that tabs and the history tell screens apart. */
export function useTitle(name: string | undefined) {
  useEffect(() => {
    document.title = name ? `${name} · Raconte` : "Raconte";
  }, [name]);
}
