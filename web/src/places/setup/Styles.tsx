import type { Account } from "../../base/api/client";
import { SetupPage } from "../../parts/bar/SetupPage";
import { HouseStyles } from "./HouseStyles";
import { Templates } from "./Templates";

/** How what the house puts out looks. */
export function Styles({ account }: { account: Account }) {
  return (
    <SetupPage account={account} title="Styles and templates">
      <HouseStyles account={account} />
      <Templates account={account} />
    </SetupPage>
  );
}
