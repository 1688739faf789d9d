import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, expect } from "../../base/api/client";
import { AskDialog, Button } from "../../base/ui/controls";
import { SetupPage } from "../../parts/bar/SetupPage";
import { shown } from "../../base/ui/shown";

/** The addresses by which people without an account ask for help. */
export function Doors({ account }: { account: Account }) {
  const [asking, setAsking] = useState(false);
  const list = useQuery(ask("/api/doors"));
  const add = useMutation({
    ...beside,
    mutationFn: (name: string) => expect(api.POST("/api/doors", { body: { name } })),
  });
  const close = useMutation({
    ...beside,
    mutationFn: (door: string) => expect(api.DELETE("/api/doors/{door}", { params: { path: { door } } })),
  });
  const error = add.error ?? close.error ?? list.error;
  return (
    <SetupPage
      account={account}
      title="Doors"
      about="Whoever has a door’s address asks for help without an account, with pictures, and follows the answer. What comes in stands under Reports, in the inbox."
      act={
        <Button look="main" onClick={() => setAsking(true)}>
          Open a door
        </Button>
      }
    >
      {add.data && (
        <div role="status" className="mt-3 border-l-[3px] border-call pl-3">
          <p>The address of “{shown(add.data.door.name)}”. It is shown this once:</p>
          <p className="flex items-center gap-2 py-1">
            <code className="overflow-x-auto rounded border border-soft px-2 py-1 font-mono text-sm">
              {add.data.address}
            </code>
            <Button small onClick={() => void navigator.clipboard.writeText(add.data.address)}>
              Copy
            </Button>
          </p>
        </div>
      )}
      {list.data?.length === 0 && (
        <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">No door is open.</p>
      )}
      <ul aria-label="Doors" className="divide-y divide-line rounded border-line bg-paper px-4 not-empty:border">
        {list.data?.map((d) => (
          <li key={d.id} className="flex items-center gap-3 py-2">
            <span className="flex-1">
              {shown(d.name)} <span className="text-sm text-soft">opened by {shown(d.by)}</span>
            </span>
            <Button small aria-label={`Close the door ${d.name}`} onClick={() => close.mutate(d.id)}>
              Close
            </Button>
          </li>
        ))}
      </ul>
      {error && (
        <p role="alert" className="text-mustfix">
          {error.message}
        </p>
      )}
      {asking && (
        <AskDialog
          title="Open a door"
          label="Whom is it for?"
          initial=""
          confirm="Open it"
          check={(t) => (t && t.length <= 100 ? "" : "Use 1 to 100 characters.")}
          onDone={(name) => {
            setAsking(false);
            if (name) add.mutate(name);
          }}
        />
      )}
    </SetupPage>
  );
}
