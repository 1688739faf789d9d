import { beside } from "../../base/api/beside";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { type Account, api, type Block, expect, mayEdit, type WholeDocument } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { secret } from "../../base/api/secret";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { unsent } from "../../base/ui/unsent";

/**
 * Where a step does not work, its follower says so: whoever writes makes a report of it, with the step, its picture and
 * the document; whoever reads says what happens, to those who answer for the document.
 */
export function Fails({ account, data, step }: { account: Account; data: WholeDocument; step: Block }) {
  const navigate = useNavigate();
  const [telling, setTelling] = useState(false);
  const report = useMutation({
    mutationFn: async () => {
      const [{ loadCore }, { reportStep }] = await Promise.all([
        import("../../base/core/core"),
        import("../reports/begin"),
      ]);
      await loadCore();
      return reportStep(data, step);
    },
    onSuccess: (address) => void navigate(address),
  });
  if (data.summary.kind !== "procedure") return null;
  return (
    <>
      <Button
        small
        look="quiet"
        className="-ml-2 print:hidden"
        aria-label={`It fails here: report step ${step.number ?? ""}`}
        disabled={report.isPending}
        onClick={() => (mayEdit(account) ? report.mutate() : setTelling(true))}
      >
        It fails here
      </Button>
      {telling && <Telling data={data} step={step} onDone={() => setTelling(false)} />}
    </>
  );
}

/** Says what happens instead. What is written is there again until it was sent. */
function Telling({ data, step, onDone }: { data: WholeDocument; step: Block; onDone: () => void }) {
  const notice = useNotice();
  const keep = `fails ${data.summary.id} ${step.id}`;
  const [wrong, setWrong] = useState(unsent.get(keep) ?? "");
  const [ids] = useState(() => ({ id: newID(), follow: secret() }));
  const tell = useMutation({
    ...beside,
    mutationFn: () =>
      expect(
        api.POST("/api/documents/{document}/failures", {
          params: { path: { document: data.summary.id } },
          body: { ...ids, block: step.id, wrong: wrong.trim() },
        }),
      ),
    onSuccess: () => {
      unsent.delete(keep);
      notice({
        text: "Told to those who answer for it.",
        action: { label: "See what becomes of it", run: () => location.assign(`/s/${ids.follow}`) },
      });
      onDone();
    },
  });
  return (
    <Panel title={`Step ${step.number ?? ""} fails`} onDone={onDone}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          tell.mutate();
        }}
      >
        <label className="block">
          <span className="mb-1 block text-soft">What happens instead?</span>
          <textarea
            autoFocus
            required
            rows={4}
            maxLength={4000}
            value={wrong}
            onChange={(e) => {
              unsent.set(keep, e.target.value);
              setWrong(e.target.value);
            }}
            className="w-full rounded border border-soft px-3 py-2"
          />
        </label>
        <p className="mt-1 text-sm text-soft">The step and its picture go with it.</p>
        {tell.error && (
          <p role="alert" className="mt-2 text-mustfix">
            {tell.error.message} What you wrote is still here.
          </p>
        )}
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onDone}>Cancel</Button>
          <Button
            look="main"
            type="submit"
            disabled={tell.isPending}
            why={!wrong.trim() && "Say what happens instead."}
          >
            Tell it
          </Button>
        </div>
      </form>
    </Panel>
  );
}
