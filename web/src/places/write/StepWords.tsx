import { useState } from "react";
import type { Other, Tags } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import type { Row } from "../../parts/document/model";
import { WordsEditor } from "../../parts/words/WordsEditor";
import { WordsView } from "../../parts/words/WordsView";
import { Beside, Does } from "./Beside";
import { useDesk } from "./desk";
import { Fits } from "./Fits";
import { nameOf } from "./stepName";
import { around } from "../../base/typed";

/** The words of a step: read, and where they are pressed, written. */
export function StepWords(props: {
  row: Row;
  numbers: Numbers;
  writing: boolean;
  onNext: (id: string, by: 1 | -1) => void;
  markers: Tags;
  does: Other | undefined;
}) {
  const { row, numbers, writing, onNext, markers, does } = props;
  const { actions, onWriting, onLeft, style, layout, pictureOf } = useDesk();
  const [at, setAt] = useState<{ left: number; top: number }>();
  const name = nameOf(row, numbers);
  const label = row.content.type === "passage" && !row.content.asks ? "Words of the passage" : `Words of ${name}`;
  const { content } = row;
  const leads = (
    <>
      {content.document && (
        <Does
          other={does}
          document={content.document}
          onDrop={() => actions.change(row.id, "Take a link away", (c) => ({ ...c, document: undefined }))}
        />
      )}
    </>
  );
  const beside = (
    <Beside
      content={content}
      onChange={(beside) =>
        actions.change(row.id, "Change web links", (c) => ({ ...c, beside: beside.length > 0 ? beside : undefined }))
      }
    />
  );
  if (writing) {
    return (
      <div className="mt-1 min-w-0">
        {leads}
        <WordsEditor
          label={label}
          words={row.content.words}
          markers={markers}
          at={at}
          onChange={(words) => actions.type(row.id, words)}
          onLeave={() => onLeft(row.id)}
          onNext={(by) => onNext(row.id, by)}
          onDivide={content.type === "step" ? (before, behind) => actions.divide(row.id, before, behind) : undefined}
        />
        {content.type === "step" && style && (
          <Fits content={content} style={style} layout={layout} pictureOf={pictureOf} />
        )}
        {beside}
      </div>
    );
  }
  const empty = core.empty(row.content.words);
  const open = (place?: { left: number; top: number }) => {
    setAt(place);
    onWriting(row.id);
  };
  return (
    <div className="mt-1 min-w-0">
      {leads}
      <div
        role="group"
        data-words
        aria-label={label}
        className={`${content.type === "passage" || content.document ? "min-h-8" : "min-h-24"} min-w-0 cursor-text self-start text-[1.06rem] leading-[1.5]`}
        onClick={(e) => {
          if (!around(e, "a")) open({ left: e.clientX, top: e.clientY });
        }}
      >
        {empty ? (
          <span className="text-soft">
            {content.asks
              ? "Write it in a line or two"
              : content.type === "passage"
                ? "Write what readers should know here"
                : content.document
                  ? "Say more, if need be"
                  : "Say what to do here"}
          </span>
        ) : (
          <WordsView words={row.content.words} markers={markers} />
        )}
        <Button
          className="sr-only focus-visible:not-sr-only"
          onClick={(e) => {
            e.stopPropagation();
            open();
          }}
        >
          Write the words of {name}
        </Button>
      </div>
      {beside}
    </div>
  );
}
