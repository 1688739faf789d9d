import { useState } from "react";
import type { Taken } from "../../base/api/client";
import type { View } from "../../base/core/core";
import { useStageCore } from "./core";
import { Pick } from "./fields";
import { ShotPicker } from "./ShotPicker";

const places = { inside: "Inside, at the lower right", right: "Beside, to the right", below: "Below" };

/** Sets another shot into the picture, or beside it. */
export function InsetDialog(props: { onTake: (view: View, label?: string) => void; onDone: () => void }) {
  const stage = useStageCore();
  const [place, setPlace] = useState("inside");
  const pick = (shot: Taken | null) => {
    props.onDone();
    if (shot) props.onTake(stage.setIn(shot.id, { w: shot.width, h: shot.height }, place), "Set in another shot");
  };
  return (
    <ShotPicker title="Which shot to set in" onPick={pick}>
      <div className="mb-3">
        <Pick label="Where" value={place} options={places} onPick={setPlace} />
      </div>
    </ShotPicker>
  );
}
