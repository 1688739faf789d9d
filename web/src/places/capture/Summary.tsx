import { useSettings } from "../../parts/shots/settings";
import { Button } from "../../base/ui/controls";
import { Options, summary } from "./Options";
import { useRecorder } from "../../parts/capture/use";

/** What is taken and when, in two lines; opened, all choices are seen. */
export function Summary({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  const s = useSettings();
  const rec = useRecorder();
  const [what, more] = summary(s, rec.source?.knows.pointer ?? false, rec.source?.kind);
  return (
    <section aria-label="How to capture" className={open ? "flex min-h-0 flex-1 flex-col" : ""}>
      <div className="m-3 mb-1 flex items-start gap-2 rounded border border-line px-3 py-2">
        <p className="min-w-0 flex-1 leading-snug">
          <strong>{what}</strong>
          <span className="block text-sm text-soft">{more}</span>
        </p>
        <Button look="quiet" className="-my-1 -mr-2 font-bold" aria-expanded={open} onClick={() => onOpen(!open)}>
          {open ? "Done" : "Change"}
        </Button>
      </div>
      {open && (
        <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} role="group" aria-label="Choices">
          <Options onBrought={() => onOpen(false)} />
        </div>
      )}
    </section>
  );
}
