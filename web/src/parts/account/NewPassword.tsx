import { reasonOf } from "../../base/reason";
import { useState } from "react";
import { Button, Field } from "../../base/ui/controls";

/** Asks for a new password, which can be looked at instead of being typed twice. */
export function NewPassword(props: {
  confirm: string;
  ready?: boolean;
  onChosen: (password: string) => Promise<void>;
}) {
  const [password, setPassword] = useState("");
  const [seen, setSeen] = useState(false);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const choose = async () => {
    setBusy(true);
    try {
      await props.onChosen(password);
    } catch (e) {
      setProblem(reasonOf(e));
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void choose();
      }}
    >
      <Field
        label="Password, at least 10 characters"
        type={seen ? "text" : "password"}
        value={password}
        onChange={setPassword}
        autoComplete="new-password"
      />
      <label className="mt-1 flex items-center gap-2 text-sm">
        <input type="checkbox" className="size-4" checked={seen} onChange={(e) => setSeen(e.target.checked)} />
        Show it
      </label>
      <p className="mt-2 text-sm text-soft">
        A few words that do not belong together are easy to remember and hard to guess.
      </p>
      {problem && (
        <p role="alert" className="mt-3 text-mustfix">
          {problem}
        </p>
      )}
      <Button
        look="main"
        type="submit"
        className="mt-5 w-full justify-center"
        disabled={busy || props.ready === false}
        why={password.length < 10 && "A password has at least 10 characters."}
      >
        {props.confirm}
      </Button>
    </form>
  );
}
