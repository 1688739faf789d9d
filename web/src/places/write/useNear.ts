import { type RefObject, useEffect, useState } from "react";

/**
 * Whether an element is on the screen or nearly, or has been: what is far away need not be drawn yet. What is
 * wanted anyway counts as near from then on.
 */
export function useNear(ref: RefObject<Element | null>, margin: number, wanted = false): boolean {
  const [near, setNear] = useState(wanted);
  if (wanted && !near) setNear(true);
  useEffect(() => {
    const watch = new IntersectionObserver(
      ([entry]) => {
        if (!entry?.isIntersecting) return;
        setNear(true);
        watch.disconnect();
      },
      { rootMargin: `${margin}px` },
    );
    if (ref.current) watch.observe(ref.current);
    return () => watch.disconnect();
  }, [ref, margin]);
  return near;
}
