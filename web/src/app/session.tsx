import { ask } from "../base/api/ask";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import { type Account, mayReview, Problem } from "../base/api/client";
import { keepFresh } from "../base/api/freshness";
import { onSignedOut } from "../base/api/signedout";
import { ByHouse, SignIn, SignInForm } from "../parts/account/signin";
import { Blank, Button } from "../base/ui/controls";

/** Shows its children to whoever is signed in. */
export function Session({ children }: { children: (account: Account) => ReactNode }) {
  const client = useQueryClient();
  const asks = ask("/api/session");
  const session = useQuery({ ...asks, staleTime: Infinity, retry: false });
  const account = session.data;
  const [ended, setEnded] = useState(false);
  const known = account !== undefined;
  useEffect(() => onSignedOut(() => known && setEnded(true)), [known]);
  const drafts = account && mayReview(account);
  useEffect(() => (drafts === undefined ? undefined : keepFresh(client, drafts)), [client, drafts]);
  if (account)
    return (
      <>
        {children(account)}
        {ended && (
          <Again
            account={account}
            onDone={(now) => {
              if (now.id !== account.id) location.reload(); // another person gets a page of their own
              setEnded(false);
              client.setQueryData(asks.queryKey, now);
              void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== asks.queryKey[0] });
            }}
          />
        )}
      </>
    );
  if (session.error instanceof Problem && session.error.status === 401) {
    return <SignIn onDone={(a) => client.setQueryData(asks.queryKey, a)} />;
  }
  if (session.error) {
    return (
      <Blank title="Raconte can’t be reached">
        <p className="mb-4">{session.error.message}</p>
        <Button onClick={() => void session.refetch()}>Try again</Button>
      </Blank>
    );
  }
  return <Blank title="One moment…" />;
}

/** The session has ended while the page was open: the page stays as it is behind the question. */
function Again({ account, onDone }: { account: Account; onDone: (account: Account) => void }) {
  return (
    <Dialog.Root open>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-ink/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[16%] left-1/2 z-50 w-[min(24rem,92vw)] -translate-x-1/2 rounded-md border border-soft bg-paper p-6"
        >
          <Dialog.Title className="text-lg font-bold">Sign in again to go on</Dialog.Title>
          <p className="mt-1 mb-4 text-soft">Your session has ended. What you have written is kept in this browser.</p>
          <SignInForm name={account.name} onDone={onDone} />
          <ByHouse />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
