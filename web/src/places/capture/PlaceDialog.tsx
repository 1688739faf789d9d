import { reasonOf } from "../../base/reason";
import { Select } from "../../base/ui/Select";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, expect } from "../../base/api/client";
import { Button, Field } from "../../base/ui/controls";
import { place, stepsOf } from "../../parts/capture/placing";
import type { Item } from "../../parts/shots/shots";

/** Asks which document shots are to become steps of, and where. */
export function PlaceDialog({ items, title, onDone }: { items: Item[]; title: string; onDone: () => void }) {
  const navigate = useNavigate();
  const [chosen, setChosen] = useState("new");
  const [name, setName] = useState(title);
  const [after, setAfter] = useState<string>();
  const [problem, setProblem] = useState("");
  const list = useQuery(ask("/api/documents", { query: {} }));
  const doc = list.data?.find((d) => d.id === chosen);
  const last = doc?.steps ?? 0;
  const go = async () => {
    try {
      const id = doc?.id ?? (await expect(api.POST("/api/documents", { body: { title: name.trim() } }))).id;
      const at =
        after === undefined || after === "" ? last : Math.min(last, Math.max(0, Math.round(Number(after)) || 0));
      place({ document: id, after: at, steps: await stepsOf(items), shots: items });
      await navigate(`/d/${id}/write`);
    } catch (e) {
      setProblem(reasonOf(e));
    }
  };
  const n = items.length;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/4 left-1/2 z-50 w-[min(34rem,92vw)] -translate-x-1/2 rounded-md border border-soft bg-paper p-6"
        >
          <Dialog.Title className="mb-4 text-lg font-bold">
            {n === 1 ? "Place the shot as a step" : `Place ${n} shots as steps`}
          </Dialog.Title>
          <form
            className="space-y-4"
            onSubmit={(e) => {
              e.preventDefault();
              if (doc || name.trim()) void go();
            }}
          >
            <label className="block">
              <span className="mb-1 block text-sm text-soft">In</span>
              <Select
                label="In"
                className="w-full"
                value={chosen}
                onChange={setChosen}
                options={[
                  { value: "new", name: "A new procedure" },
                  ...(list.data ?? []).map((d) => ({ value: d.id, name: d.title })),
                ]}
              />
            </label>
            {doc ? (
              <label className="block">
                <span className="mb-1 block text-sm text-soft">After step, 0 for the beginning</span>
                <input
                  type="number"
                  min={0}
                  max={last}
                  value={after ?? last}
                  onChange={(e) => setAfter(e.target.value)}
                  className="w-28 rounded border border-soft bg-paper px-3 py-2"
                />{" "}
                of {last}
              </label>
            ) : (
              <Field label="Its title" value={name} onChange={setName} />
            )}
            {problem && <p className="text-mustfix">{problem}</p>}
            <div className="flex justify-end gap-2">
              <Dialog.Close asChild>
                <Button>Cancel</Button>
              </Dialog.Close>
              <Button look="main" type="submit">
                Place
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
