import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { First } from "./First";
import { Forgotten } from "./Forgotten";
import { type Account, api, expect, Problem } from "../../base/api/client";
import { useValidity, validitySaid } from "../../base/api/validity";
import { Button, Field } from "../../base/ui/controls";
import { useTitle } from "../../base/ui/title";

/** The house's door: a small panel under the name. */
export function Door({ says, children }: { says: string; children: ReactNode }) {
  return (
    <main className="flex min-h-dvh items-start justify-center bg-desk px-4 pt-[14vh]">
      <div className="w-full max-w-sm rounded-md border border-line bg-paper p-8">
        <p className="text-2xl font-bold tracking-tight">
          racont<span className="text-look">e</span>
        </p>
        <h1 className="mt-1 mb-6 text-soft">{says}</h1>
        {children}
      </div>
    </main>
  );
}

/** Signs someone in, or makes the first account of a new installation. */
export function SignIn({ onDone }: { onDone: (account: Account) => void }) {
  useTitle("Sign in");
  const entrance = useEntrance();
  const [forgotten, setForgotten] = useState(false);
  if (entrance.data?.first) return <First onDone={onDone} />;
  if (forgotten) return <Forgotten onDone={() => setForgotten(false)} />;
  return (
    <Door says="Sign in to write and follow procedures">
      <PrintedPage />
      <SignInForm problem={endings[new URLSearchParams(location.search).get("identity") ?? ""]} onDone={onDone} />
      <ByHouse />
      {entrance.data?.mail && (
        <Button look="quiet" className="mt-3 w-full justify-center" onClick={() => setForgotten(true)}>
          I have forgotten my password
        </Button>
      )}
    </Door>
  );
}

/** Whoever has scanned the code of a printed page learns whether it is valid without signing in. */
function PrintedPage() {
  const [, document = ""] = /^\/d\/([\w-]+)$/.exec(location.pathname) ?? [];
  const printed = Number(new URLSearchParams(location.search).get("printed") ?? 0);
  const { data } = useValidity(document, document ? printed : 0);
  if (!data) return null;
  const { said, valid } = validitySaid(data);
  return (
    <p role="status" className={`mb-5 border-l-[4px] py-1 pl-3 ${valid ? "border-action" : "border-mustfix"}`}>
      {said}
    </p>
  );
}

/** How the way through the house's own sign-in ended, where it did not end well. */
const endings: Record<string, string> = {
  down: "The house’s sign-in does not answer. Try again later, or sign in with name and password.",
  foreign: "This sign-in was not begun here, or it took too long. Try again.",
  refused: "The house’s sign-in did not let you in.",
  role: "Your account at the house gives you no role here. Ask your administrator.",
  stale:
    "The house’s sign-in let you through without asking who you are, which is no signature. Try again; if it stays, tell your administrator.",
  disabled: "This account is disabled. Ask your administrator.",
};

/** The way through the house's own sign-in, where it has one, which comes back to where one is. */
export function ByHouse() {
  const { data } = useEntrance();
  if (!data?.provider) return null;
  return (
    <a
      href={`/api/identity?${new URLSearchParams({ to: location.pathname + location.search })}`}
      className="mt-3 block rounded border border-line px-3 py-1.5 text-center hover:border-soft"
    >
      Sign in with {data.provider}
    </a>
  );
}

const useEntrance = () => useQuery({ ...ask("/api/entrance"), staleTime: Infinity });

/** Asks for name and password, and for a one-time code where one is wanted; the name may be known already. */
export function SignInForm(props: { name?: string; problem?: string; onDone: (account: Account) => void }) {
  const { onDone } = props;
  const [name, setName] = useState(props.name ?? "");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState<string>();
  const [problem, setProblem] = useState(props.problem ?? "");
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    try {
      onDone(await expect(api.POST("/api/session", { body: { name: name.trim(), password, code: code?.trim() } })));
    } catch (e) {
      setProblem(reasonOf(e));
      if (e instanceof Problem && e.needs) setCode("");
      else setPassword("");
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
        {code !== undefined && (
          <Field label="One-time code" value={code} onChange={setCode} autoFocus autoComplete="one-time-code" />
        )}
      </div>
      {problem && (
        <p role="alert" className="mt-4 text-mustfix">
          {problem}
        </p>
      )}
      <Button
        look="main"
        type="submit"
        className="mt-6 w-full justify-center"
        disabled={busy}
        why={
          (!name && "Type your name.") ||
          (!password && "Type your password.") ||
          (code === "" && "Type the code that your authenticator shows.")
        }
      >
        Sign in
      </Button>
    </form>
  );
}
