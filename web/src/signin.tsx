import { useState } from "react";
import { type Account, api, expect } from "./api/client";
import { Button, Field } from "./ui/controls";
import { useTitle } from "./ui/title";

export function SignIn({ onDone }: { onDone: (account: Account) => void }) {
  useTitle("Sign in");
  return (
    <main className="flex min-h-dvh items-start justify-center bg-desk px-4 pt-[16vh]">
      <div className="w-full max-w-sm rounded-md border border-line bg-paper p-8">
        <p className="text-2xl font-bold tracking-tight">
          racont<span className="text-look">e</span>
        </p>
        <h1 className="mt-1 mb-6 text-soft">Sign in to write and follow procedures</h1>
        <SignInForm onDone={onDone} />
      </div>
    </main>
  );
}

/** Asks for name and password; the name may be known already. */
export function SignInForm(props: { name?: string; onDone: (account: Account) => void }) {
  const { onDone } = props;
  const [name, setName] = useState(props.name ?? "");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    try {
      onDone(await expect(api.POST("/api/session", { body: { name: name.trim(), password } })));
    } catch (e) {
      setProblem((e as Error).message);
      setPassword("");
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <div className="space-y-4">
        <Field label="Name" value={name} onChange={setName} autoFocus={!props.name} autoComplete="username" />
        <Field
          label="Password"
          type="password"
          value={password}
          onChange={setPassword}
          autoFocus={Boolean(props.name)}
          autoComplete="current-password"
        />
      </div>
      {problem && (
        <p role="alert" className="mt-4 text-mustfix">
          {problem}
        </p>
      )}
      <Button look="main" type="submit" className="mt-6 w-full justify-center" disabled={busy || !name || !password}>
        Sign in
      </Button>
    </form>
  );
}
