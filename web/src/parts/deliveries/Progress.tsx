import type { Delivery } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { sizeOf } from "../../base/format";
import { sayLeft, useLeft } from "./useLeft";
import { useDeliveryAct } from "./useDeliveries";

/** How far a delivery is, and what can be done about it. */
export function Progress({ of: d }: { of: Delivery }) {
  const left = useLeft(d);
  const cancel = useDeliveryAct("cancel");
  const retry = useDeliveryAct("retry");
  const failed = cancel.error ?? retry.error;
  return (
    <span className="flex flex-wrap items-center gap-3">
      {(d.state === "waiting" || d.state === "working") && (
        <>
          <progress aria-label={`Making ${d.file}`} max={d.all || 1} value={d.done} className="h-2 w-32" />
          <span role="status" className="tabular-nums">
            {d.state === "waiting"
              ? "Waiting"
              : d.all
                ? `${d.done} of ${d.all} ${d.folder ? "documents" : "pictures"}`
                : "Being made"}
            {left !== undefined && `, ${sayLeft(left)}`}
          </span>
          {d.mine && (
            <Button small onClick={() => cancel.mutate(d.id)}>
              Cancel
            </Button>
          )}
        </>
      )}
      {d.state === "done" && (
        <a className="font-bold text-action underline" href={`/api/deliveries/${d.id}/file`} download={d.file}>
          Download<span className="sr-only"> {d.file}</span>
          {d.bytes ? `, ${sizeOf(d.bytes)}` : ""}
        </a>
      )}
      {d.state === "failed" && (
        <span role="alert" className="text-mustfix">
          Not made. {d.error}
        </span>
      )}
      {d.state === "cancelled" && <span className="text-soft">Cancelled</span>}
      {d.mine && (d.state === "failed" || d.state === "cancelled") && (
        <Button small onClick={() => retry.mutate(d.id)}>
          Try again
        </Button>
      )}
      {failed && <span className="text-mustfix">{failed.message}</span>}
    </span>
  );
}
