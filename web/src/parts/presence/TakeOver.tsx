import { Button, Panel } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";

/** Asks before a step is written that another is writing. */
export function TakeOver(props: { name: string; step: string; onTake: () => void; onWait: () => void }) {
  return (
    <Panel
      title={`${shown(props.name)} is writing ${props.step ? `step ${props.step}` : "this"}`}
      onDone={props.onWait}
    >
      <p>
        Their words appear here as they write. If you take it over, they stop; what they have written until then stays.
      </p>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={props.onWait}>Wait</Button>
        <Button look="main" onClick={props.onTake}>
          Take over
        </Button>
      </div>
    </Panel>
  );
}
