import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type Figure, type HiddenPlace } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";

/** What a cover covers, and when. */
const covered = ({ points, during, path }: Figure["marks"][number]) => JSON.stringify([points, during, path]);
const areasOf = (figure: Figure) => figure.marks.filter((m) => m.kind === "concealment" || m.kind === "patch");

/**
 * When something is concealed in a shot that was handed out before, asks whether it is to be concealed there too: in
 * the revisions that readers have, and in the files that were made of them.
 */
export function HandedOut({ figure }: { figure: Figure }) {
  const notice = useNotice();
  // What was concealed when the picture was opened, or has been asked about.
  const [settled, setSettled] = useState(() => new Set(areasOf(figure).map(covered)));
  const fresh = areasOf(figure).filter((m) => !settled.has(covered(m)));
  const params = { params: { path: { shot: figure.shot } } };
  const query = useQuery({ ...ask("/api/shots/{shot}/handed", params.params), enabled: fresh.length > 0 });
  const where = query.data ?? [];
  if (fresh.length === 0 || where.length === 0) return null;
  const settle = () => setSettled(new Set([...settled, ...fresh.map(covered)]));
  const withhold = async () => {
    const body = fresh.flatMap(({ points: [a, b], during, path }): HiddenPlace[] =>
      a && b
        ? [
            {
              x: Math.min(a.x, b.x),
              y: Math.min(a.y, b.y),
              w: Math.abs(a.x - b.x),
              h: Math.abs(a.y - b.y),
              during,
              path,
            },
          ]
        : [],
    );
    try {
      await expect(api.POST("/api/shots/{shot}/handed", { ...params, body }));
      settle();
      notice({ text: "Concealed in what was handed out too. Files that were made of it are withdrawn." });
    } catch (e) {
      notice({ text: `Nothing was changed in what was handed out: ${reasonOf(e)}` });
    }
  };
  const revisions = where.reduce((n, d) => n + d.revisions, 0);
  return (
    <div
      role="alert"
      className="mb-1.5 flex items-center gap-2 rounded border border-l-[3px] border-line border-l-mustfix bg-paper px-3 py-1.5 text-sm"
    >
      <p className="min-w-0 flex-1">
        This shot was handed out before, in {revisions === 1 ? "1 revision" : `${revisions} revisions`} of{" "}
        {where.map((d) => `“${shown(d.title)}”`).join(", ")}: readers see it there as it was. Concealed there too, it
        can’t be brought back, and files made of it are withdrawn.
      </p>
      <Button small onClick={() => void withhold()}>
        Conceal it there too
      </Button>
      <Button small onClick={settle}>
        Leave it there
      </Button>
    </div>
  );
}
