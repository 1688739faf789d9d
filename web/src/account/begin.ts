import type { Account } from "../api/client";
import { loadCore } from "../core/core";
import { prune } from "../manuscript/keeping";
import { resumeDrafts } from "../manuscript/useDraft";
import { outbox } from "../outbox/outbox";
import { enter } from "./storage";

let begun = "";

/** Opens what this browser keeps for an account, and goes on with what an earlier page left. */
export function begin(account: Account) {
  enter(account.id);
  if (begun === account.id) return;
  begun = account.id;
  void loadCore() // warm it up while something else is read
    .then(() => outbox.start())
    .then(() => resumeDrafts(account))
    .then(prune)
    .catch(() => (begun = "")); // the next screen tries again
}
