import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type Account } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { SetupPage, Subject } from "../../parts/bar/SetupPage";
import { useHouse } from "../../parts/house/useHouse";
import { RuleFields } from "./RuleFields";

/** What is asked for before a revision is released, where the folder says nothing. */
export function Approval({ account }: { account: Account }) {
  const rule = useHouse("rule");
  const people = useQuery(ask("/api/people"));
  return (
    <SetupPage
      account={account}
      title="Approval"
      about="A folder can have a rule of its own: it is set where the folder is changed, under Folders and numbers."
    >
      <Subject id="approval" title="The house’s rule">
        <div className="max-w-md">
          <RuleFields
            label="Where a folder says nothing, before a revision is released"
            rule={rule.value ?? { needed: 0 }}
            people={people.data ?? []}
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
      </Subject>
    </SetupPage>
  );
}
