import { memo } from "react";
import type { Scene } from "../../base/api/client";

const faces: Record<string, { family: string; weight?: number; style?: string }> = {
  regular: { family: "Raconte" },
  bold: { family: "Raconte", weight: 700 },
  italic: { family: "Raconte", style: "italic" },
  "bold-italic": { family: "Raconte", weight: 700, style: "italic" },
  mono: { family: "Raconte Mono" },
  "mono-bold": { family: "Raconte Mono", weight: 700 },
  wide: { family: "Raconte Wide" },
  "wide-bold": { family: "Raconte Wide", weight: 700 },
  han: { family: "Raconte Han" },
  "han-bold": { family: "Raconte Han", weight: 700 },
  arabic: { family: "Raconte Arabic" },
  "arabic-bold": { family: "Raconte Arabic", weight: 700 },
  hebrew: { family: "Raconte Hebrew" },
  "hebrew-bold": { family: "Raconte Hebrew", weight: 700 },
  emoji: { family: "Raconte Emoji" },
};

const loaded = new Set<string>();

/** How a face is named to the browser; one of the house is fetched. */
function faceOf(name: string): { family: string; weight?: number; style?: string } | undefined {
  const sha = name.startsWith("house:") ? name.split(":")[2] : undefined;
  if (!sha) return faces[name];
  const family = `house-${sha}`;
  if (!loaded.has(sha)) {
    loaded.add(sha);
    const face = new FontFace(family, `url(/api/housefiles/${sha})`);
    document.fonts.add(face);
    void face.load().catch(() => loaded.delete(sha)); // it is set in the page's own face meanwhile
  }
  return { family };
}

type Props = { scene: Scene; number: number; picture: (ref: string) => string; onPage: (page: number) => void };

/** One computed page, drawn as it is. */
export const Sheet = memo(function Sheet({ scene, number, picture, onPage }: Props) {
  return (
    <svg
      viewBox={`0 0 ${scene.w} ${scene.h}`}
      className="block w-full border border-line bg-paper print:border-0"
      style={{ contentVisibility: "auto", containIntrinsicSize: "794px 1123px" }}
      role="group"
      aria-label={`Page ${number}`}
    >
      {scene.items.map((item, i) => {
        if (item.path) return <path key={i} d={item.path.d} fill={item.path.fill} />;
        if (item.words) {
          const w = item.words;
          const face = faceOf(w.face);
          return (
            <text
              key={i}
              x={w.rtl ? w.x + w.w : w.x}
              y={w.y}
              {...(w.rtl && { direction: "rtl", unicodeBidi: "bidi-override" })}
              fill={w.fill}
              fontSize={w.size}
              fontFamily={face && `"${face.family}", Raconte`}
              fontWeight={face?.weight ?? 400}
              fontStyle={face?.style}
              xmlSpace="preserve"
            >
              {w.text}
            </text>
          );
        }
        if (item.picture) {
          const p = item.picture;
          const at = { x: p.target.x, y: p.target.y, width: p.target.w, height: p.target.h };
          const said = { href: picture(p.ref), role: "img", "aria-label": p.alt };
          if (!p.whole) return <image key={i} {...said} {...at} />;
          const { x, y, w, h } = p.source;
          return (
            <svg key={i} {...at} viewBox={`${x} ${y} ${w} ${h}`} preserveAspectRatio="none">
              <image {...said} width={p.whole.w} height={p.whole.h} preserveAspectRatio="none" />
            </svg>
          );
        }
        if (item.link) {
          const { area, url, page } = item.link;
          const name = url || `To page ${page}`;
          return (
            <a
              key={i}
              href={url || `#page-${page}`}
              {...(url && { target: "_blank", rel: "noopener noreferrer" })}
              aria-label={name}
              onClick={(e) => {
                if (url || !page) return;
                e.preventDefault();
                onPage(page);
              }}
            >
              <rect x={area.x} y={area.y} width={area.w} height={area.h} fill="transparent" />
            </a>
          );
        }
        return null;
      })}
    </svg>
  );
});
