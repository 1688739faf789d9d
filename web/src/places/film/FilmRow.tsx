import { sayMs } from "../../base/format";
import { useState } from "react";
import type { Content } from "../../base/api/client";
import { core, type FilmScene } from "../../base/core/core";
import type { Draft } from "../../parts/document/draft";
import type { Row } from "../../parts/document/model";
import { Button } from "../../base/ui/controls";
import { OwnVoice } from "../../parts/clips/OwnVoice";

type Props = {
  scene: FilmScene | undefined;
  current: boolean;
  onPlay: () => void;
  /** Of the title. */
  heading?: string;
  document?: string;
  row?: Row;
  number?: string;
  draft?: Draft;
  silent?: boolean;
};

/** One step of a film: whether it is told, its words as they are spoken, its voice, its length. */
export function FilmRow(props: Props) {
  const { scene, row, draft, document } = props;
  const [text, setText] = useState<string>();
  const told = row?.content.film;
  const set = (label: string, part: NonNullable<Content["film"]>) => {
    if (!row || !draft) return;
    draft.patch(
      label,
      [row.id],
      ({ content }) => {
        const film = { ...content.film, ...part };
        return { ...content, film: film.show || film.said || film.voice ? film : undefined };
      },
      label === "Change what is said",
    );
  };
  const words = row ? core.label(row.content) : (scene?.words ?? "");
  const kind = row?.content.type;
  const done = () => {
    if (text !== undefined && scene && text.trim() !== scene.said)
      set("Change what is said", { said: text.trim() || undefined });
    setText(undefined);
  };
  return (
    <li
      className={`grid grid-cols-[2rem_minmax(0,1fr)_9.5rem_4.5rem] items-start gap-3 rounded border px-3 py-2 ${props.current ? "border-action" : "border-line"} ${scene ? "bg-paper" : "bg-desk"}`}
    >
      <span className="pt-0.5 text-right font-bold">{props.number}</span>
      <div className="min-w-0">
        {row && kind !== "chapter" ? (
          <label className="flex items-center gap-2 text-sm text-soft">
            <input
              type="checkbox"
              className="size-6 shrink-0"
              checked={scene !== undefined}
              onChange={(e) =>
                set(e.target.checked ? "Tell a step" : "Leave a step out", { show: e.target.checked ? "in" : "out" })
              }
            />
            <span className={scene ? "sr-only" : ""}>{scene ? `Tell ${props.number ?? ""} ${words}` : words}</span>
            {scene &&
              (kind === "section"
                ? "Section"
                : row.content.figures.some((f) => f.clip)
                  ? "With a clip"
                  : row.content.figures.length > 0
                    ? ""
                    : "Without a picture")}
          </label>
        ) : (
          <p className="text-sm text-soft">{props.heading}</p>
        )}
        {scene && row && kind !== "section" ? (
          <textarea
            aria-label={`What is said at ${props.number ?? ""}`}
            rows={2}
            value={text ?? scene.said}
            onChange={(e) => setText(e.target.value)}
            onBlur={done}
            maxLength={4000}
            className="mt-1 w-full rounded border border-line bg-paper px-2 py-1 hover:border-soft"
          />
        ) : (
          scene && <p className={kind === "section" ? "font-bold" : ""}>{scene.words}</p>
        )}
        {told?.said && (
          <button
            type="button"
            className="text-sm text-action underline"
            onClick={() => set("Say the words of the step", { said: undefined })}
          >
            Say the words of the step again
          </button>
        )}
        {scene?.missing && !told?.voice && <p className="text-sm text-look">{scene.missing}</p>}
      </div>
      <div className="text-sm">
        {scene && row && document && (kind !== "section" || told?.voice) && (
          <OwnVoice
            document={document}
            voice={told?.voice}
            silent={props.silent ?? false}
            name={`${props.number ?? ""} ${words}`}
            onVoice={(voice) => set(voice ? "Record what is said" : "Let it be spoken", { voice })}
          />
        )}
      </div>
      <div className="text-right">
        {scene && (
          <>
            <span className="font-mono text-sm" title={scene.guessed ? "A guess, until it was spoken" : ""}>
              {scene.guessed ? "≈ " : ""}
              {sayMs(scene.length, true).replace(/.$/, "")}
            </span>
            <Button
              small
              className="mt-1"
              onClick={props.onPlay}
              aria-label={`Play ${props.number ?? props.heading ?? words}`}
            >
              Play
            </Button>
          </>
        )}
      </div>
    </li>
  );
}
