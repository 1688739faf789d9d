import { useState } from "react";
import type { Block } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { useSay } from "../../parts/comments/useComments";
import { Button } from "../../base/ui/controls";
import { WordsEditor } from "../../parts/words/WordsEditor";

/** A step's words, written otherwise to suggest them; what is valid and what is written stay as they are. */
export function Suggest({ document, block, onDone }: { document: string; block: Block; onDone: () => void }) {
  const { say } = useSay(document);
  const [words, setWords] = useState(block.content.words);
  const [why, setWhy] = useState("");
  const [id] = useState(newID); // pressed twice it is said once
  const send = () =>
    say.mutate(
      {
        id,
        place: { block: block.id },
        body: why.trim() || "Other words for this.",
        mentions: [],
        suggestion: words,
      },
      { onSuccess: onDone },
    );
  return (
    <div
      role="group"
      aria-label={`Suggestion for step ${block.number ?? ""}`}
      className="mb-3 border-l-[3px] border-call pl-3"
    >
      <WordsEditor
        label="Suggested words"
        words={block.content.words}
        markers={block.markers}
        onChange={setWords}
        onLeave={() => undefined}
      />
      <input
        aria-label="Why"
        placeholder="Why, if it needs saying"
        maxLength={1000}
        value={why}
        onChange={(e) => setWhy(e.target.value)}
        className="mt-2 w-full rounded border border-soft px-2 py-1 placeholder:text-soft"
      />
      {say.error && (
        <p role="alert" className="text-mustfix">
          {say.error.message}
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          small
          look="main"
          disabled={say.isPending}
          why={words === block.content.words && "Nothing was changed in the words."}
          onClick={send}
        >
          Suggest it
        </Button>
        <Button small onClick={onDone}>
          Cancel
        </Button>
      </div>
    </div>
  );
}
