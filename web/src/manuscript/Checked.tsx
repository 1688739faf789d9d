import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Content, expect } from "../api/client";
import { reshoot } from "../stage/reshoot";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import type { Draft } from "./draft";

const count = (n: number) => (n === 1 ? "the picture" : `${n} pictures`);

/** The pictures that the last check of a run took anew: they take the places of those that the document shows. */
export function Checked({ id, draft }: { id: string; draft: Draft }) {
  const notice = useNotice();
  const [at, setAt] = useState<number>();
  const { data = [] } = useQuery({
    queryKey: ["replays", id],
    queryFn: () => expect(api.GET("/api/documents/{document}/replays", { params: { path: { document: id } } })),
  });
  const of = (shot: string) => data.find((t) => t.about.replay?.of === shot);
  const rows = draft.blocks().filter((r) => r.content.figures.some((f) => of(f.shot)));
  const figures = rows.flatMap((r) => r.content.figures.filter((f) => of(f.shot)));
  if (figures.length === 0) return null;

  const take = async () => {
    const changed = new Map<string, Content>();
    let [n, lost] = [0, 0];
    try {
      for (const row of rows) {
        const next = [];
        for (const figure of row.content.figures) {
          const shot = of(figure.shot);
          if (!shot) {
            next.push(figure);
            continue;
          }
          setAt(++n);
          const made = await reshoot(figure, shot);
          draft.shotArrived({ id: shot.id, width: shot.width, height: shot.height, name: shot.name });
          lost += made.marks.filter((m) => m.lost).length;
          next.push(made);
        }
        changed.set(row.id, { ...row.content, figures: next });
      }
      draft.edit(
        "Take the pictures of a check",
        draft.blocks().flatMap((r) => {
          const content = changed.get(r.id);
          return content ? [{ id: r.id, after: { order: r.order, removed: false, content } }] : [];
        }),
      );
      const marks =
        lost === 0 ? "All marks have their place" : `${lost === 1 ? "1 mark was" : `${lost} marks were`} not found`;
      notice({ text: `${marks}; undo brings all back.` });
    } catch (e) {
      notice({ text: `Nothing was replaced: ${(e as Error).message}` });
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
