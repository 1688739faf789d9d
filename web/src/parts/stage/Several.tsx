import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import { Button } from "../../base/ui/controls";

const sides = { left: "Left", center: "Centre", right: "Right", top: "Top", middle: "Middle", bottom: "Bottom" };

/** What can be done with several chosen marks at once. */
export function Several({ count, onTake }: { count: number; onTake: (view: View, label?: string) => void }) {
  const stage = useStageCore();
  return (
    <section aria-label="Several marks" className="space-y-2">
      <h2 className="text-sm text-soft">{count} marks chosen</h2>
      <div role="group" aria-label="Align" className="grid grid-cols-3 gap-1">
        {Object.entries(sides).map(([to, name]) => (
          <Button
            key={to}
            small
            className="justify-center"
            onClick={() => onTake(stage.align(to), "Align marks")}
            aria-label={`Align: ${name.toLowerCase()}`}
          >
            {name}
          </Button>
        ))}
      </div>
      <div className="flex flex-wrap gap-1">
        {count > 2 && (
          <>
            <Button small onClick={() => onTake(stage.distribute(false), "Space marks evenly")}>
              Even gaps across
            </Button>
            <Button small onClick={() => onTake(stage.distribute(true), "Space marks evenly")}>
              Even gaps down
            </Button>
          </>
        )}
        <Button small onClick={() => onTake(stage.sameSize(), "Make marks one size")}>
          Same size
        </Button>
        <Button small onClick={() => onTake(stage.group(true), "Group marks")}>
          Group
        </Button>
        <Button small onClick={() => onTake(stage.group(false), "Ungroup marks")}>
          Ungroup
        </Button>
      </div>
    </section>
  );
}
