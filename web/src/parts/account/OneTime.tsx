import { reasonOf } from "../../base/reason";
import { useState } from "react";
import { type Account, api, expect } from "../../base/api/client";
import { Button, Field } from "../../base/ui/controls";

/** Turns one-time codes on and off. */
export function OneTime({ account, onSaid }: { account: Account; onSaid: (text: string) => void }) {
  const [begun, setBegun] = useState<{ secret: string; address: string }>();
  const [recovery, setRecovery] = useState<string[]>();
  const [typed, setTyped] = useState("");
  const [password, setPassword] = useState("");
  const [ending, setEnding] = useState(false);
  const attempt = async (work: () => Promise<void>) => {
    try {
      await work();
    } catch (e) {
      onSaid(reasonOf(e));
    }
    setTyped("");
    setPassword("");
  };
  const begin = () => attempt(async () => setBegun(await expect(api.POST("/api/one-time"))));
  const prove = () =>
    attempt(async () => {
      setRecovery(await expect(api.PUT("/api/one-time", { body: { code: typed } })));
      setBegun(undefined);
    });
  const end = () =>
    attempt(async () => {
      await expect(api.DELETE("/api/one-time", { body: { password, code: typed } }));
      setEnding(false);
      onSaid("Your password alone lets you in again.");
    });
  return (
    <section aria-labelledby="one-time">
      <h3 id="one-time" className="mb-1 font-bold">
        One-time codes
      </h3>
      {recovery ? (
        <div role="status">
          <p>
            From now on you are asked for a code when you sign in. Keep these somewhere safe: each lets you in once when
            your authenticator is lost.
          </p>
          <ul data-recovery className="my-2 grid grid-cols-2 gap-x-4 font-mono text-sm">
            {recovery.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <Button onClick={() => void navigator.clipboard.writeText(recovery.join("\n"))}>Copy them</Button>{" "}
          <Button onClick={() => setRecovery(undefined)}>I have them</Button>
        </div>
      ) : begun ? (
        <form
          className="flex gap-4"
          onSubmit={(e) => {
            e.preventDefault();
            void prove();
          }}
        >
          <img
            src={`/api/code?${new URLSearchParams({ address: begun.address })}`}
            alt="The code to scan with your authenticator"
            className="size-36 shrink-0 border border-line"
          />
          <div className="min-w-0 flex-1 space-y-2">
            <p className="text-sm">Scan it with an authenticator on your telephone, or type this into it:</p>
            <p data-secret className="font-mono text-sm break-all">
              {begun.secret}
            </p>
            <Field label="The code that it shows" value={typed} onChange={setTyped} autoComplete="one-time-code" />
            <Button look="main" type="submit" why={!typed && "Type the code that your authenticator shows."}>
              Turn on
            </Button>
          </div>
        </form>
      ) : account.oneTime ? (
        ending ? (
          <form
            className="flex items-end gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              void end();
            }}
          >
            <Field
              label="Your password"
              type="password"
              value={password}
              onChange={setPassword}
              autoFocus
              autoComplete="current-password"
            />
            <Field label="A code" value={typed} onChange={setTyped} autoComplete="one-time-code" />
            <Button
              type="submit"
              why={(!typed && "Type the code that your authenticator shows.") || (!password && "Type your password.")}
            >
              Turn off
            </Button>
          </form>
        ) : (
          <p className="flex items-center gap-3">
            <span className="flex-1">You are asked for a code when you sign in.</span>
            <Button onClick={() => setEnding(true)}>Turn off</Button>
          </p>
        )
      ) : (
        <p className="flex items-center gap-3">
          <span className="flex-1 text-soft">Besides the password, a code from your telephone is asked for.</span>
          <Button onClick={() => void begin()}>Turn on</Button>
        </p>
      )}
    </section>
  );
}
