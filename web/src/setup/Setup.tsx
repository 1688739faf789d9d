import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, expect } from "../api/client";
import { Places, TopBar } from "../shell/TopBar";
import { letterKeys } from "../ui/letterKeys";
import { SecretWords } from "./SecretWords";
import { AskDialog, Button } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { Failed, Loading } from "../ui/states";
import { useTitle } from "../ui/title";

const day = (iso: string) => new Date(iso).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** What a person sets up: recorders outside the browser, and the team's words to conceal. */
export function Setup({ account }: { account: Account }) {
  useTitle("Setup");
  const client = useQueryClient();
  const notice = useNotice();
  const [asking, setAsking] = useState(false);
  const [made, setMade] = useState<{ name: string; token: string }>();
  const list = useQuery({ queryKey: ["devices"], queryFn: () => expect(api.GET("/api/devices")) });
  const refresh = () => void client.invalidateQueries({ queryKey: ["devices"] });
  const add = async (name: string) => {
    try {
      const { token } = await expect(api.POST("/api/devices", { body: { name } }));
      setMade({ name, token });
    } catch (e) {
      notice({ text: (e as Error).message });
    }
    refresh();
  };
  const revoke = async (id: string, name: string) => {
    try {
      await expect(api.DELETE("/api/devices/{device}", { params: { path: { device: id } } }));
      notice({ text: `“${name}” can send nothing any more. What it sent stays.` });
    } catch (e) {
      notice({ text: (e as Error).message });
    }
    refresh();
  };
  const devices = list.data ?? [];
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-3xl px-4 py-6">
        <h1 className="mb-4 text-2xl font-bold">Setup</h1>
        <Keys />
        <section aria-labelledby="recorders" className="rounded border border-line bg-paper p-5">
          <div className="flex items-center gap-3">
            <h2 id="recorders" className="flex-1 text-lg font-bold">
              Recorders
            </h2>
            <Button look="main" onClick={() => setAsking(true)}>
              Add a recorder
            </Button>
          </div>
          <p className="mt-1 mb-3 max-w-prose text-soft">
            A recorder outside the browser sends shots and what it knows of them to{" "}
            <code className="font-mono text-sm">{location.origin}/api/feed</code>. It needs a token. Whoever runs
            Raconte has the description of the feed, and a script to begin with.
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
                      Added {day(d.madeAt)}, {d.usedAt ? `last used ${day(d.usedAt)}` : "never used"}
                    </span>
                  </span>
                  <Button onClick={() => void revoke(d.id, d.name)}>Revoke</Button>
                </li>
              ))}
            </ul>
          )}
        </section>
        <SecretWords />
      </main>
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
    </>
  );
}

/** Keys of one letter, which some people press without meaning to. */
function Keys() {
  const [on, setOn] = useState(letterKeys.on());
  return (
    <section aria-labelledby="keys" className="mb-5 rounded border border-line bg-paper p-5">
      <h2 id="keys" className="text-lg font-bold">
        Keys
      </h2>
      <label className="mt-1 flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={on}
          onChange={(e) => {
            letterKeys.set(e.target.checked);
            setOn(e.target.checked);
          }}
          className="translate-y-0.5 accent-action"
        />
        <span>
          Keys of one letter choose from the pad and take shots
          <span className="block text-sm text-soft">
            Switch them off if you dictate, or press keys without meaning to. It holds in this browser.
          </span>
        </span>
      </label>
    </section>
  );
}
