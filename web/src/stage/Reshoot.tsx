import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { api, expect, type Figure, type Mark, type Shot, type Taken } from "../api/client";
import type { Row } from "../manuscript/model";
import { Button, useNotice } from "../ui/controls";
import { finish } from "./finished";
import { ShotPicker } from "./ShotPicker";

const cropID = "crop";

/** Replaces the shot of a figure by a new one: each mark goes to where its target is now. */
export function Reshoot(props: {
  figure: Figure;
  first: number;
  rows: Row[];
  onShot: (shot: Shot) => void;
  onChange: (label: string, figure: Figure) => void;
  onUnfold: (step: string, figure: string) => void;
}) {
  const { figure, first, rows } = props;
  const notice = useNotice();
  const [picking, setPicking] = useState(false);
  const [busy, setBusy] = useState(false);
  const [before, setBefore] = useState<Figure>();
  const [unsure, setUnsure] = useState<string[]>([]);
  const [comparing, setComparing] = useState(false);

  const replace = async (shot: Taken) => {
    setBusy(true);
    try {
      const { crop } = figure;
      const asked: Mark[] = [...figure.marks];
      // The crop goes where what it showed has gone.
      if (crop && !figure.quarter && !figure.mirror)
        asked.push({
          id: cropID,
          kind: "box",
          ink: "red",
          weight: "medium",
          points: [
            { x: crop.x, y: crop.y },
            { x: crop.x + crop.w, y: crop.y + crop.h },
          ],
        });
      const found = await expect(
        api.POST("/api/shots/{shot}/targets", {
          params: { path: { shot: shot.id } },
          body: { from: figure.shot, marks: asked },
        }),
      );
      const of = new Map(found.map((t) => [t.mark, t]));
      const [a, b] = of.get(cropID)?.points ?? [];
      const next: Figure = {
        ...figure,
        shot: shot.id,
        ...(crop && a && b && { crop: { x: a.x, y: a.y, w: b.x - a.x, h: b.y - a.y } }),
        marks: figure.marks.map((m) => ({
          ...m,
          points: of.get(m.id)?.points ?? m.points,
          lost: of.get(m.id)?.sure === "lost" || undefined,
        })),
      };
      props.onShot({ id: shot.id, width: shot.width, height: shot.height, name: shot.name });
      props.onChange("Replace the shot", next);
      setBefore(figure);
      setUnsure(found.filter((t) => t.sure === "perhaps" && t.mark !== cropID).map((t) => t.mark));
      const lost = next.marks.filter((m) => m.lost).length;
      notice({
        text: `The shot is replaced. ${figure.marks.length - lost} of ${figure.marks.length} marks have their place; undo brings all back.`,
      });
    } catch (e) {
      notice({ text: `The shot was not replaced: ${(e as Error).message}` });
    }
    setBusy(false);
  };
  const settle = (id: string, right: boolean) => {
    setUnsure(unsure.filter((u) => u !== id));
    if (!right)
      props.onChange("Say that a mark is in the wrong place", {
        ...figure,
        marks: figure.marks.map((m) => (m.id === id ? { ...m, lost: true } : m)),
      });
  };
  const all = rows.flatMap((r) => r.content.figures.map((f) => ({ step: r.id, figure: f.id })));
  const next = all[all.findIndex((f) => f.figure === figure.id) + 1];
  const lost = figure.marks.filter((m) => m.lost).length;
  const asking = figure.marks.filter((m) => unsure.includes(m.id));
  return (
    <section aria-label="New shot" className="space-y-2">
      <h2 className="text-sm text-soft">The program was updated</h2>
      <Button small disabled={busy} onClick={() => setPicking(true)}>
        {busy ? "Looking for each mark’s place …" : "Replace the shot …"}
      </Button>
      {before && before.id === figure.id && (
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
                  Is the {m.kind}
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
          <Button small onClick={() => setComparing(true)}>
            Before and after
          </Button>
        </>
      )}
      {next && before && (
        <Button small onClick={() => props.onUnfold(next.step, next.figure)}>
          Go on to the next picture
        </Button>
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
      {comparing && before && (
        <BeforeAfter before={before} after={figure} first={first} onDone={() => setComparing(false)} />
      )}
    </section>
  );
}

/** Two finished pictures, one over the other, with a slider between them. */
function BeforeAfter(props: { before: Figure; after: Figure; first: number; onDone: () => void }) {
  const { before, after, first } = props;
  const [urls, setURLs] = useState<[string, string]>();
  const [at, setAt] = useState(50);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let made: string[] = [];
    let gone = false;
    Promise.all([before, after].map((f) => finish(f, first, { type: "png" }))).then(
      (pictures) => {
        if (gone) return;
        made = pictures.map((p) => URL.createObjectURL(p.blob));
        setURLs(made as [string, string]);
      },
      (e: unknown) => setProblem((e as Error).message),
    );
    return () => {
      gone = true;
      made.forEach((url) => URL.revokeObjectURL(url));
    };
  }, [before, after, first]);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && props.onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[5vh] left-1/2 z-50 w-[min(68rem,94vw)] -translate-x-1/2 rounded-md border border-soft bg-paper p-4"
        >
          <Dialog.Title className="mb-2 text-lg font-bold">Before and after</Dialog.Title>
          {urls ? (
            <div className="relative">
              <img src={urls[1]} alt="After" className="block max-h-[70vh] w-full object-contain" />
              <img
                src={urls[0]}
                alt="Before"
                className="absolute inset-0 h-full w-full object-contain"
                style={{ clipPath: `inset(0 ${100 - at}% 0 0)` }}
              />
              <span aria-hidden className="absolute inset-y-0 w-0.5 bg-action" style={{ left: `${at}%` }} />
            </div>
          ) : (
            <p>{problem || "One moment …"}</p>
          )}
          <label className="mt-3 flex items-center gap-3">
            Before
            <input
              type="range"
              min={0}
              max={100}
              value={at}
              onChange={(e) => setAt(e.target.valueAsNumber)}
              aria-label="How much of the picture before is shown"
              className="flex-1"
            />
            After
          </label>
          <div className="mt-3 flex justify-end">
            <Button onClick={props.onDone}>Close</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
