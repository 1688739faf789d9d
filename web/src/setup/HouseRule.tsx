import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type ApprovalRule, expect, type Person } from "../api/client";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { RuleFields } from "./RuleFields";

/** What is asked for before a revision is released, where the folder says nothing. */
export function HouseRule({ people }: { people: Person[] }) {
  const client = useQueryClient();
  const notice = useNotice();
  const house = useQuery({ queryKey: ["house"], queryFn: () => expect(api.GET("/api/house")) });
  const [rule, setRule] = useState<ApprovalRule>();
  const save = async () => {
    try {
      await expect(api.PUT("/api/house", { body: { pattern: house.data?.pattern ?? "", rule } }));
      notice({ text: "Kept. What is valid stays so." });
      setRule(undefined);
    } catch (e) {
      notice({ text: (e as Error).message });
    }
    void client.invalidateQueries({ queryKey: ["house"] });
  };
  return (
    <section aria-labelledby="approval" className="mt-6 rounded border border-line bg-paper p-5">
      <h2 id="approval" className="mb-2 text-lg font-bold">
        Approval
      </h2>
      <div className="max-w-md">
        <RuleFields
          label="Where a folder says nothing, before a revision is released"
          rule={rule ?? house.data?.rule ?? { needed: 0 }}
          people={people}
          onChange={setRule}
        />
        <Button className="mt-3" disabled={!rule} onClick={() => void save()}>
          Save
        </Button>
      </div>
    </section>
  );
}
