import { figureAddress, type WholeDocument } from "../../base/api/client";
import { core } from "../../base/core/core";
import { Field } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { WordsView } from "../words/WordsView";

export type Fill = Record<string, string>;

/** The places of a stock answer that nothing is written for yet. */
export const open = (whole: WholeDocument, fill: Fill) =>
  core.places(whole.blocks.map((b) => b.content.words)).filter((p) => !fill[p]?.trim());

/** A stock answer as it will be, with a field for each of its places. */
export function Filling(props: { whole: WholeDocument; fill: Fill; onFill: (fill: Fill) => void }) {
  const { whole, fill, onFill } = props;
  const places = core.places(whole.blocks.map((b) => b.content.words));
  return (
    <>
      {places.length > 0 && (
        <div className="mb-4 grid gap-3 sm:grid-cols-3">
          {places.map((p, i) => (
            <Field
              key={p}
              label={shown(p)}
              value={fill[p] ?? ""}
              onChange={(value) => onFill({ ...fill, [p]: value })}
              autoFocus={i === 0}
            />
          ))}
        </div>
      )}
      <div className="max-h-[46dvh] overflow-y-auto border border-line p-3">
        {whole.blocks.map((b) => (
          <div key={b.id} className="mb-3 flex gap-2">
            {b.number && <b>{b.number}</b>}
            <div className="min-w-0">
              <WordsView words={core.filled(b.content.words, fill)} markers={b.markers} />
              {b.content.figures.map((f) => (
                <img
                  key={f.id}
                  src={figureAddress(whole.summary.id, f.id, 800, whole.seq)}
                  alt={b.alts[f.id] ?? ""}
                  className="mt-1 max-h-64 max-w-full border border-line"
                />
              ))}
            </div>
          </div>
        ))}
      </div>
    </>
  );
}
