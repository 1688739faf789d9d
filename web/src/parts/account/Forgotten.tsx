import { reasonOf } from "../../base/reason";
import { useState } from "react";
import { api, expect } from "../../base/api/client";
import { Door } from "./signin";
import { Button, Field } from "../../base/ui/controls";

/** Has a link sent that lets someone choose another password. */
export function Forgotten({ onDone }: { onDone: () => void }) {
  const [name, setName] = useState("");
  const [said, setSaid] = useState<{ done: boolean; text: string }>();
  const send = async () => {
    try {
      await expect(api.POST("/api/forgotten", { body: { name: name.trim() } }));
      setSaid({
        done: true,
        text: "If there is such an account with an e-mail address, a link is on its way. It works for an hour. Nothing came? Ask your administrator.",
      });
    } catch (e) {
      setSaid({ done: false, text: reasonOf(e) });
    }
  };
  return (
    <Door says="Choose another password">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void send();
        }}
      >
        <Field
          label="Your name to sign in with, or your e-mail address"
          value={name}
          onChange={setName}
          autoFocus
          autoComplete="username"
        />
        {said && (
          <p role={said.done ? "status" : "alert"} className={`mt-4 ${said.done ? "" : "text-mustfix"}`}>
            {said.text}
          </p>
        )}
        <Button
          look="main"
          type="submit"
          className="mt-5 w-full justify-center"
          disabled={said?.done}
          why={!name.trim() && "Type the name that you sign in with."}
        >
          Send me a link
        </Button>
      </form>
      <Button look="quiet" className="mt-3 w-full justify-center" onClick={onDone}>
        Back
      </Button>
    </Door>
  );
}
