import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { momentOf } from "../../base/format";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, expect, mayAdminister } from "../../base/api/client";
import { AskDialog, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { Failed, Loading } from "../../base/ui/states";
import { SetupPage, Subject } from "../../parts/bar/SetupPage";

/** The recorders of a person: the one in this browser, and programs that may send. */
export function Recorders({ account }: { account: Account }) {
  const notice = useNotice();
  const [asking, setAsking] = useState(false);
  const [made, setMade] = useState<{ name: string; token: string }>();
  const list = useQuery({
    ...ask("/api/devices"),
    refetchInterval: 3000, // the recorder in the browser connects from outside this page
  });
  const add = async (name: string) => {
    try {
      const { token } = await expect(api.POST("/api/devices", { body: { name } }));
      setMade({ name, token });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const revoke = async (id: string, name: string) => {
    try {
      await expect(api.DELETE("/api/devices/{device}", { params: { path: { device: id } } }));
      notice({ text: `“${name}” can send nothing any more. What it sent stays.` });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const devices = list.data ?? [];
  return (
    <SetupPage account={account} title="Recorders">
      <InBrowser devices={devices} manages={mayAdminister(account)} />
      <Subject
        id="recorders"
        title="Recorders that may send"
        act={
          <Button look="main" onClick={() => setAsking(true)}>
            Add a recorder
          </Button>
        }
      >
        <p className="mt-1 mb-3 max-w-prose text-soft">
          Those that are connected stand here, and can be revoked. Another program can send shots, too, to{" "}
          <code className="font-mono text-sm">{location.origin}/api/feed</code>: add it, and give it the token that is
          made. Whoever runs Raconte has the description of the feed.
        </p>
        {made && (
          <div role="status" className="mb-4 border-l-[3px] border-call py-1 pl-3">
            <p>The token of “{made.name}”. It is shown this once: copy it into the recorder now.</p>
            <p className="flex items-center gap-2 py-2">
              <code data-token className="overflow-x-auto rounded border border-soft px-2 py-1 font-mono">
                {made.token}
              </code>
              <Button onClick={() => void navigator.clipboard.writeText(made.token)}>Copy</Button>
              <Button onClick={() => setMade(undefined)}>Done</Button>
            </p>
          </div>
        )}
        {list.isPending && <Loading what="the recorders" />}
        {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
        {list.data && devices.length === 0 ? (
          <p className="text-soft">No recorder yet.</p>
        ) : (
          <ul className="divide-y divide-line">
            {devices.map((d) => (
              <li key={d.id} className="flex items-center gap-3 py-2">
                <span className="flex-1">
                  <strong>{d.name}</strong>
                  <span className="block text-sm text-soft">
                    Added {momentOf(d.madeAt)}, {d.usedAt ? `last used ${momentOf(d.usedAt)}` : "never used"}
                  </span>
                </span>
                <Button onClick={() => void revoke(d.id, d.name)}>Revoke</Button>
              </li>
            ))}
          </ul>
        )}
      </Subject>
      {asking && (
        <AskDialog
          title="Add a recorder"
          label="What it is called"
          initial=""
          confirm="Make its token"
          check={(t) => (t && t.length <= 100 ? "" : "Use 1 to 100 characters.")}
          onDone={(name) => {
            setAsking(false);
            if (name) void add(name);
          }}
        />
      )}
    </SetupPage>
  );
}

/** How the recorder for the browser is had, in three steps; the last is done on this very page. */
function InBrowser({ devices, manages }: { devices: { name: string }[]; manages: boolean }) {
  const connected = devices.some((d) => d.name.startsWith("Browser recorder"));
  return (
    <Subject id="in-browser" title="Recorder for this browser">
      <p className="mt-1 mb-3 max-w-prose text-soft">
        It records what you do in web pages: a picture and a sentence for each click. Passwords are painted over and
        never sent.
      </p>
      <ol className="max-w-prose list-decimal space-y-2 pl-5">
        <li>
          <a href="/api/recorder" download className="font-bold text-action underline">
            Download the recorder
          </a>{" "}
          and unpack it to a folder that stays.
        </li>
        <li>
          Open your browser’s page of extensions, switch its developer mode on, and load the unpacked folder. (In
          Firefox: about:debugging, This Firefox, Load Temporary Add-on, the file manifest.json.)
        </li>
        <li>Come back to this page, press the recorder’s button beside the address, and press Connect.</li>
      </ol>
      <p role="status" className="mt-3 font-bold">
        {connected ? "A recorder is connected." : ""}
      </p>
      <p className="mt-2 text-sm text-soft">
        Try it on the{" "}
        <a href="/practice" target="_blank" className="text-action underline">
          practice page
        </a>
        .
      </p>
      {manages && (
        <p className="mt-2 text-sm text-soft">
          For many machines:{" "}
          <a href="/api/recorder/policy.json" download className="text-action underline">
            the policy
          </a>{" "}
          lets Chromium browsers install the recorder from here and keep it up to date.
        </p>
      )}
    </Subject>
  );
}
