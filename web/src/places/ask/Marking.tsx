import type { Figure } from "../../base/api/client";
import { usePixels } from "../../parts/stage/Drawn";
import { Sketch } from "../../parts/stage/Sketch";
import { Button } from "../../base/ui/controls";
import type { Held } from "./Ask";

/** A picture of a request, marked before it is sent. */
export default function Marking(props: { held: Held; onChange: (figure: Figure) => void; onDone: () => void }) {
  const { held, onDone } = props;
  const pixels = usePixels(held.address, held.size);
  return (
    <Sketch
      figure={held.figure}
      size={held.size}
      first={1}
      pixels={pixels}
      label="Your picture. Choose from the pad, then drag, or press Enter to place"
      note="What you conceal is seen by nobody who only reads; whoever helps you may see the whole picture. Crop to what matters."
      onChange={props.onChange}
      onClose={onDone}
    >
      <div className="my-2 flex items-center gap-3">
        <h1 className="flex-1 text-lg font-bold">Mark what you mean</h1>
        <Button look="main" onClick={onDone}>
          Done
        </Button>
      </div>
    </Sketch>
  );
}
