import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Difference } from "../../base/api/client";

type Picture = Difference["blocks"][number]["pictures"][number];
type Props = { document: string; picture: Picture; from: number; to: number | undefined };

/** A picture of a state of the document. */
const address = (document: string, figure: string, revision: number | undefined) =>
  `/api/documents/${encodeURIComponent(document)}/figures/${encodeURIComponent(figure)}?width=1200${revision ? `&revision=${revision}` : ""}`;

/**
 * A picture that changed: before and after beside each other or over each other, with the places that differ framed.
 */
export function Pictures({ document, picture: p, from, to }: Props) {
  const [over, setOver] = useState(false);
  const both = p.before !== "" && p.after !== "";
  const differing = useQuery({
    ...ask("/api/documents/{document}/differing", {
      path: { document },
      query: { from, to, before: p.before, after: p.after },
    }),
    enabled: both,
    staleTime: Infinity,
    retry: false,
  });
  if (p.alt)
    return <p className="mt-2 text-sm text-soft">What stands for the picture where it can’t be seen changed.</p>;
  const before = p.before && address(document, p.before, from);
  const after = p.after && address(document, p.after, to);
  const places = differing.data?.places ?? [];
  return (
    <div className="mt-3">
      {both && (
        <p className="mb-1 flex flex-wrap items-center gap-x-4 text-sm text-soft print:hidden">
          {p.shot && <span>Another shot.</span>}
          {differing.data &&
            (differing.data.sizes
              ? places.length > 0
                ? `They differ in ${places.length === 1 ? "1 place" : `${places.length} places`}.`
                : "No pixel differs."
              : "They are of different sizes.")}
          {differing.data?.sizes && (
            <label className="flex items-center gap-2">
              <input type="checkbox" checked={over} onChange={(e) => setOver(e.target.checked)} />
              Over each other
            </label>
          )}
        </p>
      )}
      {over && before && after ? (
        <Over before={before} after={after} />
      ) : (
        <div className="grid gap-3 sm:grid-cols-2">
          <figure>
            {before ? (
              <Framed src={before} alt="Before" places={places} />
            ) : (
              <div className="grid h-full min-h-24 place-items-center border border-line text-soft">None before</div>
            )}
            <figcaption className="text-sm text-soft">Before</figcaption>
          </figure>
          <figure>
            {after ? (
              <Framed src={after} alt="After" places={places} />
            ) : (
              <div className="grid h-full min-h-24 place-items-center border border-line text-soft">None any more</div>
            )}
            <figcaption className="text-sm text-soft">After</figcaption>
          </figure>
        </div>
      )}
    </div>
  );
}

type Place = { x: number; y: number; w: number; h: number };

/** A picture with frames around places, given as shares of its size. */
function Framed({ src, alt, places }: { src: string; alt: string; places: Place[] }) {
  return (
    <div className="relative">
      <img src={src} alt={alt} className="w-full border border-line" />
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" className="absolute inset-0 h-full w-full" aria-hidden>
        {places.map((r, i) => (
          <rect
            key={i}
            x={r.x}
            y={r.y}
            width={r.w}
            height={r.h}
            fill="none"
            stroke="#b3261e"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
    </div>
  );
}

/** Two pictures over each other; a slider says where the one ends and the other begins. */
function Over({ before, after }: { before: string; after: string }) {
  const [at, setAt] = useState(50);
  return (
    <div>
      <div className="relative">
        <img src={after} alt="After" className="w-full border border-line" />
        <img
          src={before}
          alt="Before"
          className="absolute inset-0 w-full border border-line"
          style={{ clipPath: `inset(0 ${100 - at}% 0 0)` }}
        />
      </div>
      <label className="mt-1 flex items-center gap-3 text-sm text-soft">
        Before
        <input
          type="range"
          min={0}
          max={100}
          value={at}
          aria-label="Where before ends and after begins"
          onChange={(e) => setAt(e.target.valueAsNumber)}
          className="flex-1"
        />
        After
      </label>
    </div>
  );
}
