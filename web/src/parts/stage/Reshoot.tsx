import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Figure, type Shot, type Taken } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import type { Row } from "../document/model";
import { captionOf } from "../shots/use";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { BeforeAfter } from "./BeforeAfter";
import type { FigureChange } from "./change";
import { reshoot } from "./reshoot";
import { ShotPicker } from "./ShotPicker";
import type { Replacement } from "./useReplacement";

type Props = {
  figure: Figure;
  first: number;
  rows: Row[];
  numbers: Numbers;
  replacement: Replacement;
  onShot: (shot: Shot) => void;
  onFigure: (label: string, change: FigureChange) => void;
  onOpen: (figure: string) => void;
};

/** Replaces the shot of a figure by a new one, and goes on to the next figure of the document. */
export function Reshoot({ figure, first, rows, numbers, replacement, onShot, onFigure, onOpen }: Props) {
  const notice = useNotice();
  const [picking, setPicking] = useState(false);
  const [busy, setBusy] = useState(false);
  const [comparing, setComparing] = useState(false);
  const following = useFollowing(replacement.last);
  const replaced = replacement.of(figure);

  const replace = async (shot: Taken) => {
    setBusy(true);
    try {
      const reshot = await reshoot(figure, shot);
      onShot({ id: shot.id, width: shot.width, height: shot.height, name: shot.name });
      let [all, lost] = [0, 0];
      onFigure("Replace the shot", (f) => {
        const next = reshot(f);
        all = next.marks.length;
        lost = next.marks.filter((m) => m.lost).length;
        return next;
      });
      replacement.set(figure.id, { before: replaced?.before ?? figure });
      replacement.use(shot);
      notice({
        text: `The shot is replaced. ${all - lost} of ${all} marks have their place; undo brings all back.`,
      });
    } catch (e) {
      notice({ text: `The shot was not replaced: ${reasonOf(e)}` });
    }
    setBusy(false);
  };
  const settle = (id: string, right: boolean) =>
    onFigure(right ? "Confirm the place of a mark" : "Say that a mark is in the wrong place", (f) => ({
      ...f,
      marks: f.marks.map((m) => (m.id === id ? { ...m, unsure: undefined, lost: right ? m.lost : true } : m)),
    }));
  const lost = figure.marks.filter((m) => m.lost).length;
  const asking = figure.marks.filter((m) => m.unsure);
  return (
    <section aria-label="New shot" className="space-y-2">
      <p className="text-sm text-soft">The program was updated? Its new shot takes the marks over.</p>
      {following && !replaced && (
        <button
          type="button"
          disabled={busy}
          onClick={() => void replace(following)}
          className="block w-full rounded border border-soft bg-paper p-1 text-left text-sm hover:border-action"
        >
          <img src={`/api/shots/${following.id}/preview`} alt="" className="aspect-video w-full object-contain" />
          Use the next shot: {captionOf(following)}
        </button>
      )}
      <Button small disabled={busy} onClick={() => setPicking(true)}>
        {busy ? "Looking for each mark’s place …" : "Replace the shot …"}
      </Button>
      {(replaced || lost > 0 || asking.length > 0) && (
        <>
          {lost > 0 && (
            <p className="text-sm text-mustfix">
              {lost === 1 ? "1 mark was" : `${lost} marks were`} not found in the new shot. Move or delete what is
              marked so in the list.
            </p>
          )}
          {asking.length > 0 && (
            <ul aria-label="To confirm" className="space-y-1">
              {asking.map((m) => (
                <li key={m.id} className="rounded border border-line bg-paper p-1.5 text-sm">
                  Is the {core.kindName(m.kind)}
                  {m.text ? ` “${m.text}”` : ""} in the right place?
                  <span className="mt-1 flex gap-1">
                    <Button small onClick={() => settle(m.id, true)}>
                      Yes
                    </Button>
                    <Button small onClick={() => settle(m.id, false)}>
                      No
                    </Button>
                  </span>
                </li>
              ))}
            </ul>
          )}
          {replaced && (
            <Button small onClick={() => setComparing(true)}>
              Before and after
            </Button>
          )}
        </>
      )}
      {replacement.walking ? (
        <Walk figure={figure} rows={rows} numbers={numbers} replacement={replacement} onOpen={onOpen} />
      ) : (
        rows.length > 1 && (
          <Button small onClick={() => replacement.walk(true)}>
            Go through all pictures
          </Button>
        )
      )}
      {picking && (
        <ShotPicker
          title="Which shot replaces this one"
          onPick={(shot) => {
            setPicking(false);
            if (shot) void replace(shot);
          }}
        />
      )}
      {comparing && replaced && (
        <BeforeAfter before={replaced.before} after={figure} first={first} onDone={() => setComparing(false)} />
      )}
    </section>
  );
}

/** Where one is among all pictures of the document, and what is left to do about those that were replaced. */
function Walk({
  figure,
  rows,
  numbers,
  replacement,
  onOpen,
}: Pick<Props, "figure" | "rows" | "numbers" | "replacement" | "onOpen">) {
  const all = rows.flatMap((r) =>
    r.content.figures.map((f) => ({ step: r.id, number: numbers.blocks[r.id], figure: f })),
  );
  const at = all.findIndex((p) => p.figure.id === figure.id);
  const go = (to: number) => {
    const p = all[to];
    if (p) onOpen(p.figure.id);
  };
  const done = all.filter((p) => replacement.of(p.figure));
  const open = done.filter((p) => p.figure.marks.some((m) => m.lost || m.unsure));
  return (
    <div className="space-y-2 border-t border-line pt-2">
      <p role="status" className="text-sm">
        Picture {at + 1} of {all.length}; {newShots(done.length)}.
      </p>
      <div className="flex flex-wrap gap-1">
        <Button small aria-label="Previous picture" disabled={at <= 0} onClick={() => go(at - 1)}>
          Previous
        </Button>
        <Button small aria-label="Next picture" disabled={at + 1 >= all.length} onClick={() => go(at + 1)}>
          Next
        </Button>
        <Button small onClick={() => replacement.walk(false)}>
          End
        </Button>
      </div>
      {open.length > 0 && (
        <div className="text-sm">
          Still to look at:
          <ul>
            {open.map((p) => (
              <li key={p.figure.id}>
                <button type="button" className="text-action underline" onClick={() => onOpen(p.figure.id)}>
                  the picture of step {p.number}
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}

const newShots = (n: number) =>
  n === 0 ? "none has a new shot yet" : n === 1 ? "1 has a new shot" : `${n} have a new shot`;

/** The shot after another in its session. */
function useFollowing(shot: Taken | undefined): Taken | undefined {
  const session = useQuery({
    ...ask("/api/captures/{capture}", { path: { capture: shot?.capture ?? "" } }),
    enabled: shot?.capture !== undefined,
  });
  const all = session.data?.shots ?? [];
  const at = all.findIndex((s) => s.id === shot?.id);
  return at >= 0 ? all[at + 1] : undefined;
}
