import { useKeyLabels } from "../../base/keys/labels";
import { pad } from "./pad";

/** Chooses what to draw: with the mouse here, or with the left hand's keys. */
export function Pad({ tool, onChoose }: { tool?: string; onChoose: (tool: string, keep: boolean) => void }) {
  const keyLabel = useKeyLabels();
  return (
    <div className="grid grid-cols-4 gap-1" role="toolbar" aria-label="Pad: choose what to draw">
      {pad.map(([code, kind, name]) => (
        <button
          key={code}
          type="button"
          aria-pressed={tool === kind}
          title={`${name}. Shift keeps it for more than one`}
          onClick={(e) => onChoose(kind, e.shiftKey)}
          className={`rounded border px-0 py-1.5 text-center ${tool === kind ? "border-action bg-action text-paper" : "border-line bg-paper hover:border-soft"}`}
        >
          <span className="block font-mono text-sm leading-4">{keyLabel(code)}</span>
          <span className="block text-[0.7rem] leading-4">{name}</span>
        </button>
      ))}
    </div>
  );
}
