import { Button } from "./controls";

/** What stands where something is on its way. */
export const Loading = ({ what }: { what: string }) => (
  <p role="status" className="px-1 py-4 text-soft">
    Loading {what} …
  </p>
);

/** What stands where something could not be had, and a way to try again. */
export const Failed = ({ error, again }: { error: Error; again: () => void }) => (
  <div role="alert" className="my-2 border-l-[3px] border-mustfix bg-paper px-4 py-3">
    <p>{error.message}</p>
    <Button className="mt-2" onClick={again}>
      Try again
    </Button>
  </div>
);
