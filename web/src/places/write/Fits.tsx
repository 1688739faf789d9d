import { useEffect, useState } from "react";
import type { Content, HouseStyle, Layout } from "../../base/api/client";
import { core, type Fit, type Size } from "../../base/core/core";
import { layoutName } from "../../parts/house/layouts";
import type { Picture } from "../../parts/document/picture";

const quiet = 120; // milliseconds without a key before it is measured

const lines = (n: number) => (n === 1 ? "1 line" : `${n} lines`);

/** How a step's words fit their share of a page, while they are written: measured as the page is. */
export function Fits(props: {
  content: Content;
  style: HouseStyle;
  layout: Layout;
  pictureOf: (shot: string) => Picture;
}) {
  const { content, style, layout, pictureOf } = props;
  const [fit, setFit] = useState<Fit[]>();
  useEffect(() => {
    const timer = setTimeout(() => {
      const sizes: Record<string, Size> = {};
      for (const f of content.figures) {
        const { size } = pictureOf(f.shot);
        if (size) sizes[f.shot] = size;
      }
      setFit(core.fit(content, style, layout, sizes));
    }, quiet);
    return () => clearTimeout(timer);
  }, [content, style, layout, pictureOf]);
  const [here, roomier] = fit ?? [];
  if (!here) return null;
  const there = roomier
    ? `; with ${layoutName(roomier.layout)} ${roomier.left >= 0 ? `${lines(roomier.left)} would be left` : `it would be ${lines(-roomier.left)} over`}`
    : "";
  return (
    <p role="status" className={`mt-1.5 text-sm ${here.left < 0 ? "text-look" : "text-soft"}`}>
      {here.left >= 0
        ? `${lines(here.left)} left on paper`
        : `${lines(-here.left)} over its share of a page. Use fewer words${there}.`}
    </p>
  );
}
