import { useState } from "react";
import { type Account, api } from "../api/client";
import { storage } from "./storage";
import { outbox } from "../outbox/outbox";
import { Actions } from "../ui/controls";
import { LeaveDialog } from "./LeaveDialog";
import { PasswordDialog } from "./PasswordDialog";

/** The person who is signed in, and what is theirs alone. */
export function AccountMenu({ account }: { account: Account }) {
  const [open, setOpen] = useState<"password" | "leaving">();
  const signOut = async () => {
    await api.DELETE("/api/session");
    location.assign("/"); // a page of its own for the next person: nothing of this one's is left in its memory
  };
  const leave = async () => {
    const unsaved = await storage.unsaved().catch(() => []);
    if (outbox.waiting > 0 || unsaved.length > 0) setOpen("leaving");
    else await signOut();
  };
  return (
    <>
      <Actions
        className="rounded px-2 py-1 text-mist hover:bg-deep"
        choices={[
          { label: "Password and sessions", run: () => setOpen("password") },
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
      {open === "leaving" && <LeaveDialog onLeave={() => void signOut()} onStay={() => setOpen(undefined)} />}
      {open === "password" && <PasswordDialog account={account} onDone={() => setOpen(undefined)} />}
    </>
  );
}

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0])
    .join("");
