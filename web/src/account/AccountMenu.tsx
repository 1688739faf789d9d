import { lazy, Suspense, useState } from "react";
import { type Account, api, mayEdit } from "../api/client";
import { Actions } from "../ui/controls";

const Mine = lazy(() => import("./Mine"));
const LeaveDialog = lazy(() => import("./LeaveDialog"));

/** The person who is signed in, and what is theirs alone. */
export function AccountMenu({ account }: { account: Account }) {
  const [open, setOpen] = useState<"mine" | "leaving">();
  const signOut = async () => {
    await api.DELETE("/api/session");
    location.assign("/"); // a page of its own for the next person: nothing of this one's is left in its memory
  };
  const leave = async () => {
    const waits = mayEdit(account) && (await (await import("./leaving")).somethingWaits());
    if (waits) setOpen("leaving");
    else await signOut();
  };
  return (
    <>
      <Actions
        className="rounded px-2 py-1 text-mist hover:bg-deep"
        choices={[
          { label: "Your account", run: () => setOpen("mine") },
          "line",
          { label: "Sign out", run: () => void leave() },
        ]}
      >
        <span className="sr-only">Account of </span>
        <span className="max-sm:sr-only">{account.displayName}</span>
        <span aria-hidden className="sm:hidden">
          {initials(account.displayName)}
        </span>
      </Actions>
      {open === "leaving" && (
        <Suspense>
          <LeaveDialog onLeave={() => void signOut()} onStay={() => setOpen(undefined)} />
        </Suspense>
      )}
      {open === "mine" && (
        <Suspense>
          <Mine account={account} onDone={() => setOpen(undefined)} />
        </Suspense>
      )}
    </>
  );
}

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0])
    .join("");
