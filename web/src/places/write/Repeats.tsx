import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import type { Draft } from "../../parts/document/draft";
import type { Travel } from "../../parts/document/useUndo";

/** Steps whose picture shows the same as the one before, as captures do that were taken twice: out with one action. */
export function Repeats({ id, draft, travel }: { id: string; draft: Draft; travel: Travel }) {
  const notice = useNotice();
  const pictured = draft.blocks().filter((r) => r.content.figures.length === 1).length;
  const found = useQuery({
    ...ask("/api/documents/{document}/repeats", { path: { document: id } }, draft.seen),
    enabled: pictured > 1 && draft.status.kind === "saved",
  });
  const rows = draft.blocks();
  const there = (found.data ?? []).filter((r) => rows.some((row) => row.id === r));
  if (there.length === 0) return null;
  const steps = there.length === 1 ? "1 step" : `${there.length} steps`;
  return (
    <Button
      title="Their pictures show the same as the one before, and they say nothing of their own"
      onClick={() => {
        draft.removeAll(there);
        notice({ text: `Took out ${steps}.`, action: { label: "Undo", run: () => travel("undo") } });
      }}
    >
      Take out {steps} that repeat
    </Button>
  );
}
