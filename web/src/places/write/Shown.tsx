import { core } from "../../base/core/core";
import type { Show } from "../../base/core/capture";
import { Actions, type Choice } from "../../base/ui/controls";
import type { Draft } from "../../parts/document/draft";
import { withFigures } from "../../base/api/content";

const ways: [Show, string][] = [
  ["", "The whole shot"],
  ["band", "A band around what was used"],
  ["near", "What was used and what is around it"],
];

/** How much of its shot every picture shows: changed for all of them at once. The whole is kept underneath. */
export function Shown({ draft }: { draft: Draft }) {
  const rows = draft.blocks().filter((r) => r.content.figures.some((f) => f.marks.some((m) => m.kind === "box")));
  if (rows.length === 0) return null;
  const show = (how: Show) =>
    draft.patch(
      "Show more or less of all pictures",
      rows.map((r) => r.id),
      ({ content }) =>
        withFigures(content, (f) => {
          const shot = draft.shots.get(f.shot);
          return shot ? core.shown(f, { w: shot.width, h: shot.height }, how) : f;
        }),
    );
  const choices: Choice[] = ways.map(([how, label]) => ({ label, run: () => show(how) }));
  return (
    <Actions
      label="What the pictures show"
      choices={choices}
      className="rounded border border-soft bg-paper px-3.5 py-1.5 font-bold hover:border-ink"
    >
      What the pictures show
    </Actions>
  );
}
