import { beside } from "../../base/api/beside";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, expect, type KeptReceiver, type Receiver } from "../../base/api/client";
import { sizeOf } from "../../base/format";
import { SetupPage } from "../../parts/bar/SetupPage";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { fresh, ways } from "../../parts/receivers/model";
import { ReceiverForm } from "./ReceiverForm";
import { useReceivers } from "../../parts/receivers/useReceivers";
import { isKeyOf } from "../../base/typed";

/** Where reports and requests go, set up once for everybody. */
export function Receivers({ account }: { account: Account }) {
  const notice = useNotice();
  const list = useReceivers();
  const [editing, setEditing] = useState<{ version: number; receiver: Receiver }>();
  const save = useMutation({
    ...beside,
    mutationFn: ({ version, receiver }: { version: number; receiver: Receiver }) =>
      version === 0
        ? expect(api.POST("/api/receivers", { body: receiver }))
        : expect(
            api.PUT("/api/receivers/{receiver}", {
              params: { path: { receiver: receiver.id ?? "" } },
              body: { version, receiver },
            }),
          ),
    onSuccess: () => setEditing(undefined),
  });
  const remove = useMutation({
    mutationFn: (r: KeptReceiver) =>
      expect(api.DELETE("/api/receivers/{receiver}", { params: { path: { receiver: r.id } } })),
    onSuccess: (_, r) => notice({ text: `“${r.name}” is taken out. What was sent there stays there.` }),
  });
  return (
    <SetupPage
      account={account}
      title="Receivers"
      about="Where bug reports and support requests go: a tracker, a chat, a mailbox or a folder. Raconte contacts nothing but the addresses that stand here. What it signs in with is kept sealed and never shown again."
      act={
        <Button look="main" onClick={() => setEditing({ version: 0, receiver: fresh() })}>
          Add a receiver
        </Button>
      }
    >
      {list.isPending && <Loading what="the receivers" />}
      {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
      {list.data?.length === 0 && (
        <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">No receiver yet.</p>
      )}
      {list.data && list.data.length > 0 && (
        <ul aria-label="Receivers" className="divide-y divide-line rounded border border-line bg-paper px-4">
          {list.data.map((r) => (
            <li key={r.id} className="flex flex-wrap items-center gap-3 py-2.5">
              <span className="min-w-0 flex-1">
                <b className="break-words">{shown(r.name)}</b>
                <span className="block text-sm break-words text-soft">
                  {isKeyOf(ways, r.way) ? ways[r.way] : r.way}, {shown(r.where)}. {taken(r)}
                </span>
              </span>
              <Button
                onClick={() => r.receiver && setEditing({ version: r.version, receiver: r.receiver })}
                aria-label={`Change ${r.name}`}
              >
                Change
              </Button>
              <Button onClick={() => remove.mutate(r)} aria-label={`Take out ${r.name}`}>
                Take out
              </Button>
            </li>
          ))}
        </ul>
      )}
      {editing && (
        <ReceiverForm
          initial={editing.receiver}
          anew={editing.version === 0}
          busy={save.isPending}
          error={save.error}
          onSave={(receiver) => save.mutate({ version: editing.version, receiver })}
          onDone={() => setEditing(undefined)}
        />
      )}
    </SetupPage>
  );
}

/** What a receiver takes, in a line. */
function taken({ takes }: KeptReceiver): string {
  const what = [
    takes.pictures.length > 0 && "pictures",
    takes.pdf && "pages as PDF",
    takes.largestFile > 0 && `files of up to ${sizeOf(takes.largestFile)}`,
    takes.largestSum > 0 && `${sizeOf(takes.largestSum)} together`,
    takes.longestText > 0 && `${takes.longestText} characters`,
  ].filter(Boolean);
  return what.length > 0 ? `Takes ${what.join(", ")}.` : "Takes text alone.";
}
