import type { Difference } from "../../base/api/client";
import { shown } from "../../base/ui/shown";

/** Words of two states: what is gone is struck through, what is new underlined, and both are said aloud. */
export function Reworded({ words }: { words: Difference["blocks"][number]["words"] }) {
  return (
    <p dir="auto" className="whitespace-pre-wrap">
      {words.map((w, i) =>
        w.kind === "same" ? (
          <span key={i}>{shown(w.text)}</span>
        ) : w.kind === "added" ? (
          <ins key={i} className="bg-action/10 decoration-action decoration-2 underline-offset-2">
            {shown(w.text)}
          </ins>
        ) : (
          <del key={i} className="bg-mustfix/10 decoration-mustfix decoration-2">
            {shown(w.text)}
          </del>
        ),
      )}
    </p>
  );
}
