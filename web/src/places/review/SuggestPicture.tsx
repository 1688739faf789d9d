import { useCallback, useState } from "react";
import type { Block, Figure } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { groundAddress, offGround, onGround } from "../../parts/comments/ground";
import { useSay } from "../../parts/comments/useComments";
import type { Size } from "../../base/core/core";
import { usePixels } from "../../parts/stage/Drawn";
import { Sketch } from "../../parts/stage/Sketch";
import { Button } from "../../base/ui/controls";
import { unsent } from "../../base/ui/unsent";
import { WordsView } from "../../parts/words/WordsView";
import { parsed } from "../../base/typed";

/** Another look of a picture, drawn to suggest it: other marks, another crop. The document stays as it is. */
export function SuggestPicture(props: {
  document: string;
  seq: number;
  block: Block;
  figure: Figure;
  size: Size;
  first: number;
  onDone: () => void;
}) {
  const { document, block, size, onDone } = props;
  const keep = `look ${props.figure.id}`;
  const [drawn, setDrawn] = useState<Figure>(() => {
    const begun = unsent.get(keep);
    return begun ? parsed<Figure>(begun) : onGround(props.figure);
  });
  const [why, setWhy] = useState("");
  const [id] = useState(newID); // pressed twice it is said once
  const { say } = useSay(document);
  const [ground] = useState(() => groundAddress(document, props.figure.id, props.seq)); // the one that was begun on
  const pixels = usePixels(ground, size);
  const leave = useCallback(() => {
    unsent.delete(keep);
    onDone();
  }, [keep, onDone]);
  const send = () =>
    say.mutate(
      {
        id,
        place: { block: block.id, figure: props.figure.id },
        body: why.trim() || "Another look of this picture.",
        mentions: [],
        figure: offGround(drawn, props.figure),
      },
      { onSuccess: leave },
    );
  return (
    <Sketch
      figure={drawn}
      size={size}
      first={props.first}
      pixels={pixels}
      label={`Picture of step ${block.number ?? ""}. Choose from the pad, then drag, or press Enter to place`}
      note="What is concealed stays so, and what the crop leaves out is not shown here. The document stays as it is until whoever writes it takes your suggestion."
      onChange={(next) => {
        unsent.set(keep, JSON.stringify(next));
        setDrawn(next);
      }}
      onClose={onDone} // by Escape: what was drawn is there again
    >
      <h1 className="text-lg font-bold">Another look of this picture</h1>
      <div className="flex gap-2 border-b border-line pb-2">
        {block.number && <b>{block.number}</b>}
        <WordsView words={block.content.words} markers={block.markers} />
      </div>
      <div className="my-2 flex flex-wrap items-center gap-2">
        <input
          aria-label="Why"
          placeholder="Why, if it needs saying"
          maxLength={1000}
          value={why}
          onChange={(e) => setWhy(e.target.value)}
          className="min-w-48 flex-1 rounded border border-soft px-2 py-1 placeholder:text-soft"
        />
        <Button
          look="main"
          disabled={say.isPending}
          why={!unsent.has(keep) && "Nothing was changed in the picture."}
          onClick={send}
        >
          Suggest it
        </Button>
        <Button onClick={leave}>Cancel</Button>
      </div>
      {say.error && (
        <p role="alert" className="text-mustfix">
          {say.error.message}
        </p>
      )}
    </Sketch>
  );
}
