import type { Account } from "../../base/api/client";
import { LetterKeys } from "../../parts/account/LetterKeys";
import { SetupPage, Subject } from "../../parts/bar/SetupPage";

/** What keys do. */
export function Keys({ account }: { account: Account }) {
  return (
    <SetupPage account={account} title="Keys">
      <Subject id="keys" title="Keys of one letter">
        <LetterKeys />
        <p className="mt-3">The list of all keys of a page is opened there: by ?, or in the menu of your name.</p>
      </Subject>
    </SetupPage>
  );
}
