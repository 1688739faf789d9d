import { type OfPDF } from "../../base/api/client";
import { useFormats } from "./useDeliveries";

/** What is chosen of a PDF alone: folded away, since most need none of it. */
export function OfPDFs({ pdf, onPDF }: { pdf: OfPDF; onPDF: (pdf: OfPDF) => void }) {
  const edits = useFormats().data?.some((f) => f.whole) ?? false; // readers have no bundles
  const seal = pdf.seal ?? {};
  // What is not chosen is left out.
  const set = (change: Partial<OfPDF>) =>
    onPDF(
      Object.fromEntries(
        Object.entries({ ...pdf, ...change }).filter(([, v]) => v && (v === true || Object.keys(v).length > 0)),
      ),
    );
  const close = (change: Partial<NonNullable<OfPDF["seal"]>>) =>
    set({ seal: Object.fromEntries(Object.entries({ ...seal, ...change }).filter(([, v]) => v)) });
  const tick = (label: string, on: boolean | undefined, change: (on: boolean) => void) => (
    <label className="flex items-baseline gap-2 py-0.5">
      <input type="checkbox" checked={on ?? false} onChange={(e) => change(e.target.checked)} />
      {label}
    </label>
  );
  return (
    <details>
      <summary className="cursor-pointer text-action">Booklet, password and more</summary>
      <div className="mt-1 space-y-1">
        {tick("A booklet: two pages on each side, to be folded in the middle", pdf.booklet, (booklet) =>
          set({ booklet }),
        )}
        {edits &&
          tick("The bundle in it, with shots and marks, to be imported elsewhere", pdf.attached, (attached) =>
            set({ attached }),
          )}
        <label className="flex flex-wrap items-center gap-2">
          Password that opens it
          <input
            type="text"
            maxLength={100}
            autoComplete="off"
            value={seal.password ?? ""}
            onChange={(e) => close({ password: e.target.value })}
            className="rounded border border-soft bg-paper px-2 py-1"
          />
        </label>
        {tick("It may not be printed", seal.noPrint, (noPrint) => close({ noPrint }))}
        {tick("It may not be copied from", seal.noCopy, (noCopy) => close({ noCopy }))}
        {seal.password && (
          <p className="text-sm text-soft">Note the password: it is not kept here once the file is made.</p>
        )}
      </div>
    </details>
  );
}
