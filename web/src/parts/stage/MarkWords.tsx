import type { RefObject } from "react";
import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import type { Seen } from "./useStage";

/** The words of the chosen mark, where it has some. */
export function MarkWords(props: {
  view: Seen;
  editor: RefObject<HTMLTextAreaElement | null>;
  take: (view: View, label?: string) => void;
}) {
  const stage = useStageCore();
  const mark = props.view.selected;
  const marker = mark?.kind === "marker";
  if (!mark || (!marker && mark.kind !== "text" && mark.kind !== "note")) return null;
  return (
    <label className="block">
      <span className="text-sm text-soft">{marker ? "A word beside it" : "Words"}</span>
      <textarea
        ref={props.editor}
        data-words
        rows={marker ? 1 : 2}
        value={mark.text ?? ""}
        placeholder="Type the words"
        onChange={(e) => props.take(stage.text(e.target.value), "Write in a picture")}
        className="w-full rounded border border-soft bg-paper px-2 py-1"
      />
    </label>
  );
}
