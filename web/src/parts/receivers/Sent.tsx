import { momentOf } from "../../base/format";
import type { Sending } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";

/** How far a sending is, or what became of it. */
export function Sent({ of: n, onStop }: { of: Sending; onStop: () => void }) {
  const goes = n.state === "waiting" || n.state === "working";
  return (
    <div role="status" className="mt-3 border-l-[3px] border-action pl-3">
      {n.number && (
        <p>
          It is {n.link ? <Page of={n} /> : <b>{numberOf(n)}</b>} at {shown(n.name)}
          {n.standing && `: ${shown(n.standing)}`}.{" "}
          <span className="text-soft">
            {n.at && `Sent by ${shown(n.by)}, ${momentOf(n.at)}.`} {n.changed && "It has changed since."}
          </span>
        </p>
      )}
      {!n.number && n.state === "done" && n.at && (
        <p>
          Sent to {shown(n.name)} by {shown(n.by)}, {momentOf(n.at)}.
        </p>
      )}
      {goes && (
        <p className="flex flex-wrap items-center gap-3">
          <progress aria-label={`Sending to ${n.name}`} max={n.all || 1} value={n.done} className="h-2 w-32" />
          {n.state === "working" ? "On its way" : n.error ? shown(n.error) : "Waiting"}
          <Button small onClick={onStop}>
            Stop
          </Button>
        </p>
      )}
      {n.state === "failed" && (
        <p role="alert" className="text-mustfix">
          It did not get there. {shown(n.error ?? "")}
        </p>
      )}
      {n.state === "cancelled" && <p className="text-soft">Stopped.</p>}
    </div>
  );
}

/** By which a receiver knows what was sent; folders have a long name for it, which tells nobody anything. */
export const numberOf = (n: Sending) => (n.number.length > 20 ? "there" : shown(n.number));

function Page({ of: n }: { of: Sending }) {
  return (
    <a href={n.link} target="_blank" rel="noreferrer" className="font-bold text-action underline">
      {numberOf(n)}
    </a>
  );
}
