import type { Clip } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { keyOf } from "../../base/typed";

const corners = {
  "left top": { x: 0.03, y: 0.04 },
  "right top": { x: 0.77, y: 0.04 },
  "left bottom": { x: 0.03, y: 0.72 },
  "right bottom": { x: 0.77, y: 0.72 },
};

/** Where the speaker's camera stands; it can be taken out, and the recording keeps it. */
export function Camera(props: { clip: Clip; onChange: (label: string, camera: Clip["camera"]) => void }) {
  const now = props.clip.camera;
  if (!now) return null;
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-sm">
      <span className="text-soft">Your camera</span>
      <select
        aria-label="Where your camera stands"
        value={Object.entries(corners).find(([, c]) => c.x === now.x && c.y === now.y)?.[0] ?? "right bottom"}
        onChange={(e) => props.onChange("Move the camera", { ...now, ...corners[keyOf(corners, e.target.value)] })}
        className="rounded border border-soft bg-paper px-1.5 py-0.5"
      >
        {Object.keys(corners).map((c) => (
          <option key={c}>{c}</option>
        ))}
      </select>
      <Button small onClick={() => props.onChange("Take the camera out", undefined)}>
        Take it out
      </Button>
    </div>
  );
}
