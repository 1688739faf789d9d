import { part } from "../../base/ui/part";
import { useState } from "react";
import { type Account, api, expect, mayEdit } from "../../base/api/client";
import { Actions } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { showKeys } from "./showKeys";

const Mine = part(() => import("./Mine"));
const LeaveDialog = part(() => import("./LeaveDialog"));

/** The person who is signed in, and what is theirs alone. */
export function AccountMenu({ account, tight }: { account: Account; tight?: boolean }) {
  const [open, setOpen] = useState<"mine" | "leaving">();
  const notice = useNotice();
  const signOut = async () => {
    try {
      await expect(api.DELETE("/api/session"));
    } catch {
      notice({ text: "Raconte can’t be reached, so you are still signed in here. Sign out when it is there again." });
      return;
    }
    location.assign("/"); // a page of its own for the next person: nothing of this one's is left in its memory
  };
  const leave = async () => {
    // Where that part can't be loaded, signing out can't be done either, and says so.
    const waits = mayEdit(account) && (await import("./leaving").then((m) => m.somethingWaits()).catch(() => false));
    if (waits) setOpen("leaving");
    else await signOut();
  };
  return (
    <>
      <Actions
        className="rounded px-2 py-1 text-mist hover:bg-deep"
        choices={[
          { label: "Your account", run: () => setOpen("mine") },
          { label: "Keys on this page", run: showKeys },
          "line",
          { label: "Sign out", run: () => void leave() },
        ]}
      >
        <span className="sr-only">Account of </span>
        <span className={tight ? "max-[1400px]:sr-only" : "max-sm:sr-only"}>{account.displayName}</span>
        <span aria-hidden className={tight ? "min-[1401px]:hidden" : "sm:hidden"}>
          {initials(account.displayName)}
        </span>
      </Actions>
      {open === "leaving" && <LeaveDialog onLeave={() => void signOut()} onStay={() => setOpen(undefined)} />}
      {open === "mine" && <Mine account={account} onDone={() => setOpen(undefined)} />}
    </>
  );
}

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0])
    .join("");
