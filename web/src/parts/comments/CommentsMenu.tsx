import { Actions } from "../../base/ui/controls";
import type { Commenting, Shown } from "./commenting";
import { keysOf } from "../../base/typed";

const names: Record<Shown, string> = {
  open: "Show the open ones",
  mine: "Show those that I take part in",
  all: "Show all, settled ones too",
  none: "Show none",
};

/** How many comments are open, and which are shown. */
export function CommentsMenu({ commenting: c, onTakeAll }: { commenting: Commenting; onTakeAll?: () => void }) {
  const open = c.threads.filter((t) => t.suggestion && !t.suggestion.outcome).length;
  return (
    <Actions
      className="rounded px-2 py-1.5 text-action hover:bg-paper data-[state=open]:bg-paper"
      choices={[
        ...keysOf(names).map((s) => ({
          label: s === c.shown ? `✓ ${names[s]}` : names[s],
          run: () => c.onShow(s),
        })),
        "line",
        ...(onTakeAll && open > 0
          ? [{ label: open === 1 ? "Take the suggestion" : `Take all ${open} suggestions`, run: onTakeAll }]
          : []),
        { label: "Comment on the whole document", run: () => c.begin({}) },
      ]}
    >
      {c.open === 0 ? "Comments" : c.open === 1 ? "1 comment" : `${c.open} comments`}
    </Actions>
  );
}
