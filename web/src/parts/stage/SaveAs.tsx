import { useState } from "react";
import { Button, Field, Panel } from "../../base/ui/controls";

/** Asks for the name of a file that is saved; it comes filled in, and chosen, so that typing replaces it. */
export function SaveAs(props: { name: string; onSave: (name: string) => void; onDone: () => void }) {
  const [name, setName] = useState(props.name);
  return (
    <Panel title="Save the picture" onDone={props.onDone}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          props.onSave(name.trim() || props.name);
          props.onDone();
        }}
      >
        <Field label="Name" value={name} onChange={setName} autoFocus chosen />
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={props.onDone}>Cancel</Button>
          <Button look="main" type="submit">
            Save
          </Button>
        </div>
      </form>
    </Panel>
  );
}
