import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, expect, Problem } from "../../base/api/client";
import { Door } from "../../parts/account/signin";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import { NewPassword } from "../../parts/account/NewPassword";

/** Where an invitation, or a link for a new password, leads. */
export function Welcome() {
  useTitle("Choose a password");
  const { ticket = "" } = useParams();
  const path = { params: { path: { ticket } } };
  const [set, setSet] = useState("");
  const whose = useQuery({ ...ask("/api/tickets/{ticket}", path.params), retry: false, staleTime: Infinity });
  if (set) return <Door says={set}>{home}</Door>;
  if (whose.error) return <Door says={whose.error.message}>{home}</Door>;
  if (!whose.data) return <Door says="One moment…">{null}</Door>;
  const { name, displayName, invites } = whose.data;
  return (
    <Door
      says={
        invites
          ? `Welcome, ${shown(displayName)}. Choose your password.`
          : `Choose another password, ${shown(displayName)}.`
      }
    >
      <p className="mb-4">
        You sign in as <b>{shown(name)}</b>.
      </p>
      <NewPassword
        confirm={invites ? "Begin" : "Use this one"}
        onChosen={async (password) => {
          try {
            await expect(api.POST("/api/tickets/{ticket}", { ...path, body: { password } }));
          } catch (e) {
            if (!(e instanceof Problem && e.needs)) throw e;
            setSet(e.message);
            return;
          }
          location.assign("/"); // a page of its own: nothing of who was here before is left in memory
        }}
      />
    </Door>
  );
}

const home = (
  <a href="/" className="text-action underline">
    To the sign-in
  </a>
);
