import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type Figure, type Rect, type Target } from "../../base/api/client";
import { core, type View } from "../../base/core/core";
import type { FigureChange } from "./change";
import { useStageCore } from "./core";
import type { Row } from "../document/model";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";

/** Suggests what to conceal; says plainly that it can miss. */
export function Secrets(props: {
  figure: Figure;
  rows: Row[];
  onTake: (view: View, label?: string) => void;
  onFigures?: (label: string, change: FigureChange) => void;
}) {
  const stage = useStageCore();
  const { figure, rows, onTake, onFigures } = props;
  const notice = useNotice();
  const [asked, setAsked] = useState("");
  const [dismissed, setDismissed] = useState<string[]>([]);
  const [searching, setSearching] = useState(false);
  const query = useQuery({
    ...ask("/api/shots/{shot}/secrets", { path: { shot: figure.shot } }),
    enabled: asked === figure.shot,
    refetchInterval: ({ state }) => (state.data?.reading ? 2000 : false), // a large picture takes a while
  });
  const key = (r: Rect) => `${figure.shot} ${Math.round(r.x)} ${Math.round(r.y)}`;
  const open = core.secretsLeft(figure, query.data?.found ?? []).filter((s) => !dismissed.includes(key(s.rect)));
  const conceal = (rects: Rect[]) => onTake(stage.conceal(rects), "Conceal what was suggested");
  const concealed = figure.marks.filter((m) => m.kind === "concealment");
  // The same things, found by their looks, are concealed in the document's other pictures too.
  const everywhere = async () => {
    setSearching(true);
    const found = new Map<string, Target[]>(); // by shot
    let count = 0;
    try {
      for (const { shot } of rows.flatMap((r) => r.content.figures).filter((f) => f.id !== figure.id)) {
        if (found.has(shot)) continue;
        const body = { from: figure.shot, marks: concealed };
        found.set(shot, await expect(api.POST("/api/shots/{shot}/targets", { params: { path: { shot } }, body })));
      }
      onFigures?.("Conceal the same in other pictures", (f) => {
        const targets = f.id !== figure.id && found.get(f.shot);
        const next = targets ? core.concealAlike(f, concealed, targets) : f;
        const fresh = next.marks.length - f.marks.length;
        count += fresh;
        return fresh > 0 ? next : f;
      });
      notice({
        text:
          count === 0
            ? "Nothing like it was found in the other pictures. Look them over all the same."
            : `Concealed ${count === 1 ? "1 place" : `${count} places`} in other pictures. Look them over: some may have been missed.`,
      });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
    setSearching(false);
  };
  return (
    <section aria-label="Conceal" className="space-y-2">
      {asked !== figure.shot ? (
        <Button small onClick={() => setAsked(figure.shot)}>
          Suggest what to conceal
        </Button>
      ) : query.isPending ? (
        <p className="text-sm">Reading the picture …</p>
      ) : query.error ? (
        <p className="text-sm text-mustfix">{query.error.message}</p>
      ) : (
        <>
          {query.data.reading && <p className="text-sm">The text in the picture is still being read …</p>}
          {!query.data.read && !query.data.reading && (
            <p className="text-sm">The text in the picture can’t be read here, so only known fields are suggested.</p>
          )}
          {open.length === 0 ? (
            <p className="text-sm">Nothing more to suggest. Look for yourself: suggestions can miss.</p>
          ) : (
            <>
              <p className="text-sm">Conceal these? Suggestions can miss: look for yourself, too.</p>
              <ul aria-label="Suggestions" className="space-y-1">
                {open.map((s) => (
                  <li key={key(s.rect)} className="rounded border border-line bg-paper p-1.5 text-sm">
                    {s.why}
                    <Glimpse shot={figure.shot} rect={s.rect} />
                    <span className="mt-1 flex gap-1">
                      <Button small onClick={() => conceal([s.rect])}>
                        Conceal
                      </Button>
                      <Button small onClick={() => setDismissed([...dismissed, key(s.rect)])}>
                        Leave
                      </Button>
                    </span>
                  </li>
                ))}
              </ul>
              {open.length > 1 && (
                <Button small onClick={() => conceal(open.map((s) => s.rect))}>
                  Conceal all {open.length}
                </Button>
              )}
            </>
          )}
        </>
      )}
      {onFigures && concealed.length > 0 && rows.length > 1 && (
        <Button small disabled={searching} onClick={() => void everywhere()}>
          {searching ? "Looking …" : "Conceal the same in the other pictures"}
        </Button>
      )}
    </section>
  );
}

/** The suggested part, so that a person sees what is meant. */
function Glimpse({ shot, rect }: { shot: string; rect: Rect }) {
  const room = 4;
  return (
    <svg
      aria-hidden
      viewBox={`${rect.x - room} ${rect.y - room} ${rect.w + 2 * room} ${rect.h + 2 * room}`}
      className="mt-1 h-7 w-full bg-desk"
    >
      <image href={`/api/shots/${shot}`} />
    </svg>
  );
}
