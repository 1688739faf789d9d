import { useState } from "react";
import { ArrowDown, ArrowUp, Copy, Lock, LockOpen, Trash2 } from "lucide-react";
import type { Mark } from "../../base/api/client";
import { core, type View } from "../../base/core/core";
import { useStageCore } from "./core";
import { Button } from "../../base/ui/controls";
import { Toggles } from "../../base/ui/toggles";
import { NumberField, Pick } from "./fields";
import type { Seen } from "./useStage";
import { Tip } from "../../base/ui/tip";
import { keysOf } from "../../base/typed";

type Take = (view: View, label?: string) => void;

const weights = { fine: "Fine", medium: "Medium", strong: "Strong" };
const grounded = ["concealment", "patch", "inset", "light", "pointer"];

/** The looks of the chosen mark, or of the first of several: one strip above the picture. */
export function Strip({ view, marks, onTake }: { view: Seen; marks: Mark[]; onTake: Take }) {
  const stage = useStageCore();
  const mark = view.selected ?? marks.find((m) => m.id === view.chosen[0]);
  const [more, setMore] = useState(false);
  if (!mark) return null;
  const patch = (change: object, label = "Change a mark's looks") => onTake(stage.patch(change), label);
  const kind = mark.kind;
  const looks = core.looks(mark);
  const is = (...kinds: string[]) => kinds.includes(kind);
  const inked = !is("patch", "inset", "light", "pointer") && !(is("concealment") && mark.look);
  const said = inked && !is("concealment", "highlight") && view.chosen.length === 1 ? stage.inkSaid() : undefined;
  return (
    <div role="group" aria-label="Style" className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
      {inked && (
        <div role="group" aria-label="Ink" className="flex items-center gap-1">
          {core.inks().map((ink) => (
            <Tip key={ink.name} text={ink.name}>
              <button
                type="button"
                aria-label={ink.name}
                aria-pressed={mark.ink === ink.name}
                onClick={() => patch({ ink: ink.name }, "Change the ink")}
                className={`size-6 rounded ${mark.ink === ink.name ? "ring-2 ring-ink ring-offset-2" : ""}`}
                style={{ background: ink.color }}
              />
            </Tip>
          ))}
          {!is("concealment", "highlight") && (
            <label
              className="ml-1 flex items-center gap-1 text-sm"
              title={said?.ink ? `Contrast with what lies under it: ${said.contrast.toFixed(1)} to 1` : undefined}
            >
              <input
                type="checkbox"
                checked={mark.auto ?? false}
                onChange={(e) => patch({ auto: e.target.checked }, "Choose the ink by contrast")}
              />
              By contrast
              {said?.ink && <span className="text-soft">{said.contrast.toFixed(1)}:1</span>}
            </label>
          )}
        </div>
      )}
      {!grounded.includes(kind) || kind === "pointer" ? (
        <Toggles
          label="Weight"
          small
          value={mark.weight}
          options={weights}
          onPick={(weight) => patch({ weight }, "Change the weight")}
        />
      ) : null}
      {is("arrow", "line") && (
        <Pick
          label="Way"
          value={mark.way}
          options={{ "": "Straight", bent: "Bent", curved: "Curved" }}
          onPick={(way) => patch({ way })}
        />
      )}
      {is("arrow") && (
        <Pick
          label="Heads"
          value={mark.heads}
          options={{ "": "One head", both: "Two heads" }}
          onPick={(heads) => patch({ heads })}
        />
      )}
      {is("box", "ellipse") && (
        <Pick
          label="Fill"
          value={mark.fill}
          options={{ "": "Outline", tint: "Tinted", solid: "Filled" }}
          onPick={(fill) => patch({ fill })}
        />
      )}
      {is("concealment") && (
        <Pick
          label="Concealment"
          value={mark.look}
          options={{ "": "Plain", hatched: "Hatched", scrambled: "Scrambled" }}
          onPick={(look) => patch({ look })}
        />
      )}
      {is("marker") && <Counting mark={mark} patch={patch} />}
      {is("text", "note") && (
        <>
          <Pick
            label="Lines"
            value={mark.align}
            options={{ "": "To the left", middle: "Centred", end: "To the right" }}
            onPick={(align) => patch({ align })}
          />
          <NumberField label="Letters" value={looks.letters} min={8} max={120} onChange={(size) => patch({ size })} />
        </>
      )}
      {is("text") && (
        <Pick
          label="Plate"
          value={mark.plate}
          options={{ "": "On a plate", bare: "Letters only" }}
          onPick={(plate) => patch({ plate })}
        />
      )}
      {is("detail") && (
        <>
          <Pick
            label="Shape"
            value={mark.look}
            options={{ "": "Rectangle", round: "Round" }}
            onPick={(look) => patch({ look })}
          />
          <NumberField
            label="Enlarged, %"
            value={looks.zoom}
            min={110}
            max={1000}
            step={10}
            onChange={(zoom) => patch({ zoom })}
          />
        </>
      )}
      <button
        type="button"
        aria-expanded={more}
        onClick={() => setMore(!more)}
        className="rounded px-1.5 py-0.5 text-sm text-action hover:bg-desk"
      >
        {more ? "Less" : "More"}
      </button>
      {more && (
        <>
          {is("arrow", "line", "box", "ellipse", "pen") && (
            <Pick
              label="Line"
              value={mark.dash}
              options={{ "": "Solid", dashed: "Dashed", dotted: "Dotted" }}
              onPick={(dash) => patch({ dash })}
            />
          )}
          {is("box", "text", "note", "detail") && (
            <NumberField
              label="Corner"
              value={looks.corner}
              min={0}
              max={100}
              onChange={(corner) => patch({ corner: corner === 0 ? -1 : corner })}
            />
          )}
          {!grounded.includes(kind) && !is("highlight", "detail") && (
            <>
              <NumberField
                label="Opacity, %"
                value={looks.opacity}
                min={10}
                max={100}
                step={5}
                onChange={(opacity) => patch({ opacity: opacity === 100 ? 0 : opacity })}
              />
              <label className="flex items-center gap-1 text-sm">
                <input
                  type="checkbox"
                  checked={mark.shadow ?? false}
                  onChange={(e) => patch({ shadow: e.target.checked })}
                />
                Shadow
              </label>
            </>
          )}
          <Place view={view} onTake={onTake} />
        </>
      )}
      <span className="ml-auto flex gap-1">
        <Icon label="Bring forward" onClick={() => onTake(stage.raise(1), "Bring a mark forward")} icon={ArrowUp} />
        <Icon label="Send back" onClick={() => onTake(stage.raise(-1), "Send a mark back")} icon={ArrowDown} />
        <Icon label="Duplicate" onClick={() => onTake(stage.duplicate(), "Duplicate a mark")} icon={Copy} />
        <Icon
          label={mark.locked ? "Unlock" : "Lock"}
          onClick={() => patch({ locked: !mark.locked }, mark.locked ? "Unlock a mark" : "Lock a mark")}
          icon={mark.locked ? LockOpen : Lock}
        />
        <Icon label="Delete mark" onClick={() => onTake(stage.remove(), "Delete a mark")} icon={Trash2} />
      </span>
    </div>
  );
}

function Icon({ label, onClick, icon: Shape }: { label: string; onClick: () => void; icon: typeof Copy }) {
  return (
    <Tip text={label}>
      <Button small aria-label={label} onClick={onClick}>
        <Shape size={15} aria-hidden />
      </Button>
    </Tip>
  );
}

/** How a marker counts. */
function Counting({ mark, patch }: { mark: Mark; patch: (change: object, label?: string) => void }) {
  const value = mark.start ? "start" : mark.shares ? "shares" : mark.onward ? "onward" : "";
  return (
    <>
      <Pick
        label="Written"
        value={mark.count}
        options={{ "": "1, 2, 3", A: "A, B, C", a: "a, b, c", i: "i, ii, iii" }}
        onPick={(count) => patch({ count })}
      />
      <Pick
        label="Counts"
        value={value}
        options={{
          "": "On from the one before",
          shares: "Same as the one before",
          start: "From a number",
          onward: "On from earlier steps",
        }}
        onPick={(how) =>
          patch(
            { start: how === "start" ? mark.start || 1 : 0, shares: how === "shares", onward: how === "onward" },
            "Change how markers count",
          )
        }
      />
      {value === "start" && (
        <NumberField label="From" value={mark.start ?? 1} min={1} max={999} onChange={(start) => patch({ start })} />
      )}
    </>
  );
}

/** Where the one chosen mark lies, in numbers. */
function Place({ view, onTake }: { view: Seen; onTake: Take }) {
  const stage = useStageCore();
  const area = view.area;
  if (!area) return null;
  const at = { x: area.x - view.frame.x, y: area.y - view.frame.y, w: area.w, h: area.h };
  const names = { x: "Left", y: "Top", w: "Width", h: "Height" } as const;
  return keysOf(names).map((side) => (
    <NumberField
      key={side}
      label={names[side]}
      value={Math.round(at[side])}
      min={-20000}
      max={20000}
      onChange={(v) => onTake(stage.position({ ...at, [side]: v }), "Place a mark by numbers")}
    />
  ));
}
