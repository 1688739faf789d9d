import type { Account } from "../../base/api/client";
import { loadCore } from "../../base/core/core";
import { prune } from "../document/keeping";
import { resumeDrafts } from "../document/useDraft";
import { outbox } from "../outbox/outbox";
import { enter } from "../../base/storage/storage";

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
