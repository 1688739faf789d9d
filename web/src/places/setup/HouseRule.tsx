import type { Person } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { RuleFields } from "./RuleFields";
import { useHouse } from "../../parts/house/useHouse";

/** What is asked for before a revision is released, where the folder says nothing. */
export function HouseRule({ people }: { people: Person[] }) {
  const rule = useHouse("rule");
  return (
    <section aria-labelledby="approval" className="mt-6 rounded border border-line bg-paper p-5">
      <h2 id="approval" className="mb-2 text-lg font-bold">
        Approval
      </h2>
      <div className="max-w-md">
        <RuleFields
          label="Where a folder says nothing, before a revision is released"
          rule={rule.value ?? { needed: 0 }}
          people={people}
          onChange={rule.set}
        />
        <Button
          className="mt-3"
          why={!rule.changed && "Nothing was changed."}
          onClick={() => void rule.save("Kept. What is valid stays so.")}
        >
          Save
        </Button>
      </div>
    </section>
  );
}
