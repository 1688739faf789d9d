import { Button, Field } from "../../base/ui/controls";
import { Subject } from "../../parts/bar/SetupPage";
import { useHouse } from "../../parts/house/useHouse";

/** How documents are numbered. */
export function Numbering() {
  const pattern = useHouse("pattern");
  return (
    <Subject id="numbering" title="Document numbers">
      <div className="flex items-end gap-2">
        <Field
          label="Pattern: {kind} for two letters, {year}, and one count such as {nnn}"
          value={pattern.value ?? ""}
          onChange={pattern.set}
        />
        <Button
          why={!pattern.changed && "Nothing was changed."}
          onClick={() => void pattern.save("New numbers follow the pattern. Those that were given stay.")}
        >
          Save
        </Button>
      </div>
    </Subject>
  );
}
