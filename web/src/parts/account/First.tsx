import { useState } from "react";
import { type Account, api, expect } from "../../base/api/client";
import { Door } from "./signin";
import { Field } from "../../base/ui/controls";
import { NewPassword } from "./NewPassword";

/** Makes the first administrator of an installation that has nobody yet. */
export function First({ onDone }: { onDone: (account: Account) => void }) {
  const [displayName, setDisplayName] = useState("");
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  return (
    <Door says="Nobody is here yet. You become the administrator, who invites the others.">
      <div className="mb-4 space-y-4">
        <Field label="Your name" value={displayName} onChange={setDisplayName} autoFocus autoComplete="name" />
        <Field label="Name to sign in with" value={name} onChange={setName} autoComplete="username" />
        <Field
          label="E-mail address, for notices"
          type="email"
          value={email}
          onChange={setEmail}
          autoComplete="email"
        />
      </div>
      <NewPassword
        confirm="Begin"
        ready={Boolean(name.trim() && displayName.trim())}
        onChosen={async (password) =>
          onDone(await expect(api.POST("/api/first", { body: { name, displayName, email, password } })))
        }
      />
    </Door>
  );
}
