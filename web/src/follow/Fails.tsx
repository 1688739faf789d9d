import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { type Account, type Block, mayEdit, type WholeDocument } from "../api/client";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";

/** Where a step does not work, its follower reports it: with the step, its picture and the document it stands in. */
export function Fails({ account, data, step }: { account: Account; data: WholeDocument; step: Block }) {
  const navigate = useNavigate();
  const notice = useNotice();
  const report = useMutation({
    mutationFn: async () => {
      const [{ loadCore }, { reportStep }] = await Promise.all([import("../core/core"), import("../reports/begin")]);
      await loadCore();
      return reportStep(data, step);
    },
    onSuccess: (address) => void navigate(address),
    onError: (e) => notice({ text: e.message }),
  });
  if (!mayEdit(account) || data.summary.kind !== "procedure") return null;
  return (
    <Button
      small
      look="quiet"
      className="-ml-2 print:hidden"
      aria-label={`It fails here: report step ${step.number ?? ""}`}
      disabled={report.isPending}
      onClick={() => report.mutate()}
    >
      It fails here
    </Button>
  );
}
