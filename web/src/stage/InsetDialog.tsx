import { useState } from "react";
import type { Taken } from "../api/client";
import { stage, type View } from "../core/core";
import { Pick } from "./Strip";
import { ShotPicker } from "./ShotPicker";

const places = { inside: "Inside, at the lower right", right: "Beside, to the right", bottom: "Below" };

/** Sets another shot into the picture, or beside it. */
export function InsetDialog(props: { view: View; onTake: (view: View, label?: string) => void; onDone: () => void }) {
  const [place, setPlace] = useState<keyof typeof places>("inside");
  const pick = (shot: Taken | null) => {
    props.onDone();
    if (!shot) return;
    const { frame } = props.view;
    const gap = Math.round(frame.w / 60);
    let [w, h] = [frame.w * 0.4, (frame.w * 0.4 * shot.height) / shot.width];
    let [x, y] = [frame.x + frame.w - w - gap, frame.y + frame.h - h - gap];
    if (place === "right") {
      [w, h] = [(frame.h * shot.width) / shot.height, frame.h];
      [x, y] = [frame.x + frame.w + gap, frame.y];
    } else if (place === "bottom") {
      [w, h] = [frame.w, (frame.w * shot.height) / shot.width];
      [x, y] = [frame.x, frame.y + frame.h + gap];
    }
    if (place !== "inside") {
      const room = { top: 0, right: 0, bottom: 0, left: 0, [place]: Math.round((place === "right" ? w : h) + gap) };
      props.onTake(stage.look({ margin: room }), "Set in another shot");
    }
    props.onTake(
      stage.put({
        kind: "inset",
        shot: shot.id,
        points: [
          { x, y },
          { x: x + w, y: y + h },
        ],
      }),
      "Set in another shot",
    );
  };
  return (
    <ShotPicker title="Which shot to set in" onPick={pick}>
      <div className="mb-3">
        <Pick label="Where" value={place} options={places} onPick={(p) => setPlace(p as keyof typeof places)} />
      </div>
    </ShotPicker>
  );
}
