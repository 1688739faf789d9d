import { useState } from "react";
import { type Account, api, expect } from "../api/client";
import { Button, Field, Panel } from "../ui/controls";
import { useNotice } from "../ui/notices";

const least = 10;

/** Changes the password, and ends sessions that were left open elsewhere. */
export function PasswordDialog({ account, onDone }: { account: Account; onDone: () => void }) {
  const notice = useNotice();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [problem, setProblem] = useState("");
  const attempt = async (work: Promise<unknown>, said: string) => {
    try {
      await work;
      onDone();
      notice({ text: said });
    } catch (e) {
      setProblem((e as Error).message);
    }
  };
  const change = () => {
    if (fresh.length < least) setProblem(`Use at least ${least} characters.`);
    else
      void attempt(
        expect(api.POST("/api/password", { body: { old, new: fresh } })),
        "Your password is changed. All your other sessions have ended.",
      );
  };
  return (
    <Panel title="Password and sessions" onDone={onDone}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          change();
        }}
      >
        <input type="hidden" autoComplete="username" value={account.name} readOnly />
        <Field
          label="Present password"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={setOld}
          autoFocus
        />
        <Field
          label={`New password, at least ${least} characters`}
          type="password"
          autoComplete="new-password"
          value={fresh}
          onChange={setFresh}
        />
        {problem && (
          <p role="alert" className="text-mustfix">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onDone}>Cancel</Button>
          <Button look="main" type="submit" disabled={!old || !fresh}>
            Change the password
          </Button>
        </div>
      </form>
      <div className="mt-5 border-t border-line pt-4">
        <p className="mb-2 text-soft">
          Signed in on another computer, or on one that was lost? Changing the password ends those sessions too.
        </p>
        <Button
          onClick={() => void attempt(expect(api.DELETE("/api/sessions")), "All your other sessions have ended.")}
        >
          End my other sessions
        </Button>
      </div>
    </Panel>
  );
}
