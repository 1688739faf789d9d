import type { Delivery } from "../../base/api/client";
import { useEvents } from "../../base/api/events";
import { useNotice } from "../../base/ui/notices";

/** Tells, wherever a person is and in every tab, that a file of theirs is ready or could not be made. */
export function Finished() {
  const notice = useNotice();
  useEvents({
    delivery: (d: Delivery) => {
      if (!d.mine || location.pathname === "/deliveries") return; // it is seen there
      if (d.state === "done")
        notice({ text: `“${d.file}” is ready.`, action: { label: "Download", run: () => take(d) } });
      if (d.state === "failed") notice({ text: `“${d.file}” could not be made. ${d.error ?? ""}` });
    },
  });
  return null;
}

function take(d: Delivery) {
  const a = document.createElement("a");
  a.href = `/api/deliveries/${d.id}/file`;
  a.download = d.file;
  a.click();
}
