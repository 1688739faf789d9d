import { useEffect, useState } from "react";
import { storage } from "../../base/storage/storage";
import { useOutbox } from "../outbox/useOutbox";
import { Button, Panel } from "../../base/ui/controls";

/** Whoever signs out while something is not on the server yet waits for it, or leaves it here for their return. */
export default function LeaveDialog({ onLeave, onStay }: { onLeave: () => void; onStay: () => void }) {
  const { waiting, trouble } = useOutbox();
  const [unsaved, setUnsaved] = useState<number>();
  useEffect(() => {
    const look = () => void storage.unsaved().then((ids) => setUnsaved(ids.length));
    look();
    const timer = setInterval(look, 500);
    return () => clearInterval(timer);
  }, []);
  const done = waiting === 0 && unsaved === 0;
  const [waits, setWaits] = useState(false);
  useEffect(() => {
    if (waits && done) onLeave();
  }, [waits, done, onLeave]);
  return (
    <Panel title="Not everything is on the server yet" onDone={onStay}>
      <p>
        {sentence(waiting, unsaved ?? 0)} {trouble && `${trouble}.`}
      </p>
      <p className="mt-2 text-soft">
        What you leave stays in this browser, for you alone, and goes up when you sign in here again.
      </p>
      {waits && (
        <p role="status" className="mt-2">
          Waiting …
        </p>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onStay}>Stay</Button>
        <Button onClick={onLeave}>Leave it and sign out</Button>
        <Button look="main" disabled={waits} onClick={() => setWaits(true)}>
          Wait, then sign out
        </Button>
      </div>
    </Panel>
  );
}

function sentence(pictures: number, documents: number) {
  const some = [
    ...(pictures > 0 ? [pictures === 1 ? "1 picture" : `${pictures} pictures`] : []),
    ...(documents > 0 ? [documents === 1 ? "changes to 1 document" : `changes to ${documents} documents`] : []),
  ];
  if (some.length === 0) return "All is on the server now.";
  const [first = ""] = some;
  const many = pictures !== 1 || documents > 0;
  return `${first.charAt(0).toUpperCase()}${first.slice(1)}${some[1] ? ` and ${some[1]}` : ""} ${many ? "are" : "is"} still on the way.`;
}
