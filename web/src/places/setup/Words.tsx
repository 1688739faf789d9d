import type { Account } from "../../base/api/client";
import { SetupPage } from "../../parts/bar/SetupPage";
import { Sayings } from "./Sayings";
import { SecretWords } from "./SecretWords";

/** The house's own words: those that nobody outside sees, and how they are said. */
export function Words({ account }: { account: Account }) {
  return (
    <SetupPage account={account} title="Words">
      <SecretWords />
      <Sayings />
    </SetupPage>
  );
}
