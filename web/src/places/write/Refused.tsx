import { Button } from "../../base/ui/controls";
import type { Draft } from "../../parts/document/draft";

/** What the server does not take as it stands, and why. It stays on the page and in this browser. */
export function Refused({ draft, id, what }: { draft: Draft; id: string; what: string }) {
  const refused = draft.refusals().find((r) => r.id === id);
  if (!refused) return null;
  return (
    <section role="alert" aria-label={`${what} was not saved`} className="border-l-[3px] border-mustfix pl-3">
      <p className="font-bold">{what} is not saved</p>
      <p className="text-sm">
        {refused.why}. {draft.kept ? "It is kept in this browser" : "It lasts as long as this page"}; all else is saved.
      </p>
      <Button small className="mt-1" onClick={() => draft.tryAgain()}>
        Try again
      </Button>
    </section>
  );
}
