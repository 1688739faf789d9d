import { useEffect, useState } from "react";
import type { Content } from "../api/client";
import { core, type Size } from "../core/core";
import type { Picture } from "./picture";

const quiet = 120; // milliseconds without a key before it is measured

const lines = (n: number) => (n === 1 ? "1 line" : `${n} lines`);

/** How a step's words fit their share of a page, while they are written: measured as the page is. */
export function Fits(props: { content: Content; layout: 2 | 4; pictureOf: (shot: string) => Picture }) {
  const { content, layout, pictureOf } = props;
  const [fit, setFit] = useState<Record<string, number>>();
  useEffect(() => {
    const timer = setTimeout(() => {
      const sizes: Record<string, Size> = {};
      for (const f of content.figures) {
        const { size } = pictureOf(f.shot);
        if (size) sizes[f.shot] = size;
      }
      setFit(core.fit(content, sizes));
    }, quiet);
    return () => clearTimeout(timer);
  }, [content, pictureOf]);
  if (!fit) return null;
  const left = fit[layout] ?? 0;
  const other = layout === 4 ? 2 : 4;
  const there = fit[other] ?? 0;
  const otherName = other === 2 ? "two steps to a page" : "four steps to a page";
  return (
    <p role="status" className={`mt-1.5 text-sm ${left < 0 ? "text-look" : "text-soft"}`}>
      {left >= 0
        ? `${lines(left)} left on paper`
        : `${lines(-left)} over its share of a page. Use fewer words; with ${otherName} ${
            there >= 0 ? `${lines(there)} would be left` : `it would be ${lines(-there)} over`
          }.`}
    </p>
  );
}
