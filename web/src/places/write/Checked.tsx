import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { FigureChange } from "../../parts/stage/change";
import { reshoot } from "../../parts/stage/reshoot";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import type { Draft } from "../../parts/document/draft";
import { withFigures } from "../../base/api/content";

const count = (n: number) => (n === 1 ? "the picture" : `${n} pictures`);

/** The pictures that the last check of a run took anew: they take the places of those that the document shows. */
export function Checked({ id, draft }: { id: string; draft: Draft }) {
  const notice = useNotice();
  const [at, setAt] = useState<number>();
  const { data = [] } = useQuery(ask("/api/documents/{document}/replays", { path: { document: id } }));
  const of = (shot: string) => data.find((t) => t.about.replay?.of === shot);
  const rows = draft.blocks().filter((r) => r.content.figures.some((f) => of(f.shot)));
  const figures = rows.flatMap((r) => r.content.figures.filter((f) => of(f.shot)));
  if (figures.length === 0) return null;

  const take = async () => {
    const reshot = new Map<string, FigureChange>();
    let lost = 0;
    try {
      for (const figure of figures) {
        const shot = of(figure.shot);
        if (!shot) continue;
        setAt(reshot.size + 1);
        reshot.set(figure.id, await reshoot(figure, shot));
        draft.shotArrived({ id: shot.id, width: shot.width, height: shot.height, name: shot.name });
      }
      draft.patchAll("Take the pictures of a check", ({ content }) =>
        withFigures(content, (f) => {
          const made = reshot.get(f.id)?.(f) ?? f;
          if (made !== f) lost += made.marks.filter((m) => m.lost).length;
          return made;
        }),
      );
      const marks =
        lost === 0 ? "All marks have their place" : `${lost === 1 ? "1 mark was" : `${lost} marks were`} not found`;
      notice({ text: `${marks}; undo brings all back.` });
    } catch (e) {
      notice({ text: `Nothing was replaced: ${reasonOf(e)}` });
    }
    setAt(undefined);
  };
  return (
    <Button
      disabled={at !== undefined}
      title="A run that this document was made of was gone through again"
      onClick={() => void take()}
    >
      {at === undefined ? `Take ${count(figures.length)} of the last check` : `Picture ${at} of ${figures.length} …`}
    </Button>
  );
}
