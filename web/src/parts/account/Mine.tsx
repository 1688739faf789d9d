import { reasonOf } from "../../base/reason";
import { useState } from "react";
import { type Account, api, expect } from "../../base/api/client";
import { Button, Field, Panel } from "../../base/ui/controls";
import { Toggles } from "../../base/ui/toggles";
import { OneTime } from "./OneTime";
import { Sessions } from "./Sessions";

const mails = { now: "At once", daily: "Once a day", never: "Not at all" };

/** What is one's own: the password, one-time codes, sessions, notices by mail. */
export default function Mine({ account, onDone }: { account: Account; onDone: () => void }) {
  const [said, onSaid] = useState("");
  const attempt = async (work: Promise<unknown>, text: string) => {
    try {
      await work;
      onSaid(text);
    } catch (e) {
      onSaid(reasonOf(e));
    }
  };
  return (
    <Panel title={account.displayName} onDone={onDone}>
      <div className="-ml-1 max-h-[68vh] space-y-5 overflow-y-auto pr-2 pl-1">
        <section aria-labelledby="mails">
          <h3 id="mails" className="mb-1 font-bold">
            Notices by mail
          </h3>
          {account.email ? (
            <>
              <p className="mb-2 text-sm text-soft">To {account.email}.</p>
              <Toggles
                label="Notices by mail"
                value={account.mails}
                options={mails}
                onPick={(m) => void attempt(expect(api.PATCH("/api/account", { body: { mails: m } })), "Kept.")}
              />
            </>
          ) : (
            <p className="text-soft">Your account has no e-mail address. Your administrator can add it.</p>
          )}
        </section>
        <Password account={account} onSaid={onSaid} />
        <OneTime account={account} onSaid={onSaid} />
        <Sessions onSaid={onSaid} />
      </div>
      <div className="mt-5 flex items-center gap-3">
        <p role="status" className="flex-1">
          {said}
        </p>
        <Button onClick={onDone}>Close</Button>
      </div>
    </Panel>
  );
}

function Password({ account, onSaid }: { account: Account; onSaid: (text: string) => void }) {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [problem, setProblem] = useState("");
  const change = async () => {
    try {
      await expect(api.POST("/api/password", { body: { old, new: fresh } }));
      setOld("");
      setFresh("");
      setProblem("");
      onSaid("Your password is changed. All your other sessions have ended.");
    } catch (e) {
      setProblem(reasonOf(e));
    }
  };
  return (
    <section aria-labelledby="password">
      <h3 id="password" className="mb-1 font-bold">
        Password
      </h3>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void change();
        }}
      >
        <input type="hidden" autoComplete="username" value={account.name} readOnly />
        <div className="grid items-end gap-3 sm:grid-cols-2">
          <Field
            label="Present password"
            type="password"
            autoComplete="current-password"
            value={old}
            onChange={setOld}
          />
          <Field
            label="New password, at least 10 characters"
            type="password"
            autoComplete="new-password"
            value={fresh}
            onChange={setFresh}
          />
        </div>
        {problem && (
          <p role="alert" className="mt-2 text-mustfix">
            {problem}
          </p>
        )}
        <Button
          className="mt-2"
          type="submit"
          why={(!old && "Type your password as it is.") || (!fresh && "Type the new one.")}
        >
          Change the password
        </Button>
      </form>
    </section>
  );
}
