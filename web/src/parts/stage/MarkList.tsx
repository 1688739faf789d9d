import { Lock } from "lucide-react";
import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import type { Seen } from "./useStage";

/** The marks in words, the topmost first; Shift or Ctrl chooses more than one. */
export function MarkList({ view, onTake }: { view: Seen; onTake: (view: View) => void }) {
  const stage = useStageCore();
  return (
    <section>
      <h2 className="mb-1 text-sm text-soft">In this picture</h2>
      {view.list.length === 0 && (
        <p className="text-sm">Nothing yet. Press a key of the pad, then drag on the picture.</p>
      )}
      <ul className="max-h-56 overflow-y-auto">
        {view.list.map((entry) => {
          const chosen = view.chosen.includes(entry.id);
          return (
            <li key={entry.id}>
              <button
                type="button"
                aria-pressed={chosen}
                onClick={(e) => onTake(stage.select(entry.id, e.shiftKey || e.ctrlKey || e.metaKey))}
                className={`flex w-full items-center gap-1 rounded px-2 py-1 text-left text-sm ${chosen ? "bg-paper font-bold" : "hover:bg-paper"} ${entry.lost || entry.unsure ? "text-mustfix" : ""}`}
              >
                <span className="truncate">
                  {entry.name}
                  {entry.lost && " (not found in the new shot)"}
                  {entry.unsure && " (in the right place?)"}
                </span>
                {entry.locked && <Lock size={12} aria-label="locked" className="ml-auto shrink-0" />}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
