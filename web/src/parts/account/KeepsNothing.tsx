import { useStore } from "../../base/store";
import { useOutbox } from "../outbox/useOutbox";
import { Button } from "../../base/ui/controls";
import { saveAs } from "../../base/ui/saveAs";
import { keeps } from "../../base/storage/storage";

/** Says plainly that this browser keeps nothing, or could not keep some pictures, and lets those be saved. */
export function KeepsNothing() {
  const works = useStore(keeps, (k) => k.works);
  const { unkept } = useOutbox();
  if (works && unkept.length === 0) return null;
  return (
    <div
      role="alert"
      className="fixed inset-x-0 bottom-0 z-40 flex flex-wrap items-center gap-3 border-t-[3px] border-call bg-paper px-4 py-2"
    >
      <p className="min-w-0 flex-1">
        {unkept.length > 0
          ? `${unkept.length === 1 ? "1 picture" : `${unkept.length} pictures`} could not be kept in this browser: its room is used up, or it keeps nothing. They go up from this page: leave it open until then, or save them.`
          : "This browser keeps nothing for Raconte: it may be private, full, or set so. You can work; what is not saved on the server is lost when this page is closed."}
      </p>
      {unkept.length > 0 && (
        <Button onClick={() => unkept.forEach((s) => saveAs(s.blob, s.name))}>Save as files</Button>
      )}
    </div>
  );
}
