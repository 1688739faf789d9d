import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type Figure, type Rect } from "../../base/api/client";
import { core, type Size, type View } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { useStageCore } from "./core";
import type { Seen } from "./useStage";

/** The text that a picture shows, or a part of it: to be copied, or put into the words of its step. */
export function Reading(props: {
  figure: Figure;
  size: Size;
  view: Seen;
  take: (view: View) => void;
  onSay?: ((text: string) => void) | undefined;
}) {
  const { figure, size, view, take, onSay } = props;
  const stage = useStageCore();
  const notice = useNotice();
  const [area, setArea] = useState<Rect>();
  const query = useQuery({
    ...ask("/api/shots/{shot}/words", { path: { shot: figure.shot } }),
    refetchInterval: ({ state }) => (state.data?.reading ? 2000 : false), // a large picture takes a while
  });
  const { part } = view;
  useEffect(() => {
    if (part) setArea(part);
  }, [part]);
  const choosing = view.tool === "area";
  const text = core.read({ figure, shot: size, words: query.data?.words ?? [], ...(area && { area }) });
  const copy = () =>
    navigator.clipboard.writeText(text).then(
      () => notice({ text: "The text is on the clipboard." }),
      (e: Error) => notice({ text: `The text was not copied: ${e.message}` }),
    );
  if (query.error) return <p className="text-sm text-mustfix">{query.error.message}</p>;
  if (query.isPending || query.data.reading)
    return (
      <p role="status" className="text-sm">
        Reading the picture …
      </p>
    );
  if (!query.data.read) return <p className="text-sm">The text in a picture can’t be read on this server.</p>;
  return (
    <section aria-label="What is written in it" className="space-y-2 text-sm">
      {text ? (
        <textarea
          readOnly
          aria-label={area ? "Text in the part" : "Text in the picture"}
          rows={Math.min(8, text.split("\n").length + 1)}
          value={text}
          className="w-full rounded border border-soft bg-paper px-2 py-1"
        />
      ) : (
        <p>{area ? "There is no text in this part." : "There is no text in this picture."}</p>
      )}
      <div className="flex flex-wrap gap-1">
        <Button small why={!text && "There is no text here."} onClick={() => void copy()}>
          Copy the text
        </Button>
        {onSay && (
          <Button small why={!text && "There is no text here."} onClick={() => onSay(text)}>
            Put it into the words
          </Button>
        )}
        <Button
          small
          aria-pressed={choosing}
          onClick={() => take(choosing ? stage.choose("", false) : stage.choose("area", false))}
        >
          Only a part of it
        </Button>
        {area && (
          <Button small onClick={() => setArea(undefined)}>
            All of it
          </Button>
        )}
      </div>
      {choosing && <p role="status">Drag over the part to read.</p>}
    </section>
  );
}
