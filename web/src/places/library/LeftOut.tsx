import { useNavigate } from "react-router";
import type { Summary } from "../../base/api/client";
import { Button, Panel } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";

/** What could not be taken into a document that was brought in. */
export function LeftOut(props: { document: Summary; left: string[]; onDone: () => void }) {
  const navigate = useNavigate();
  return (
    <Panel title={`What could not be taken into “${shown(props.document.title)}”`} onDone={props.onDone}>
      <ul className="max-h-72 list-disc space-y-1 overflow-y-auto pl-5">
        {props.left.map((l) => (
          <li key={l}>{shown(l)}</li>
        ))}
      </ul>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={props.onDone}>Close</Button>
        <Button look="main" onClick={() => void navigate(`/d/${props.document.id}/write`)}>
          Open the document
        </Button>
      </div>
    </Panel>
  );
}
