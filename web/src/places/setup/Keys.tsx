import { useState } from "react";
import type { Account } from "../../base/api/client";
import { letterKeys } from "../../base/storage/letterKeys";
import { SetupPage, Subject } from "../../parts/bar/SetupPage";

/** Keys of one letter, which some people press without meaning to. */
export function Keys({ account }: { account: Account }) {
  const [on, setOn] = useState(letterKeys.on());
  return (
    <SetupPage account={account} title="Keys">
      <Subject id="keys" title="Keys of one letter">
        <label className="mt-1 flex items-baseline gap-2">
          <input
            type="checkbox"
            checked={on}
            onChange={(e) => {
              letterKeys.set(e.target.checked);
              setOn(e.target.checked);
            }}
            className="translate-y-0.5 accent-action"
          />
          <span>
            Keys of one letter choose from the pad and take shots
            <span className="block text-sm text-soft">
              Switch them off if you dictate, or press keys without meaning to. It holds in this browser.
            </span>
          </span>
        </label>
      </Subject>
    </SetupPage>
  );
}
