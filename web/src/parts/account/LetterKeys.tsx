import { useState } from "react";
import { letterKeys } from "../../base/keys/letterKeys";

/** Switches keys of one letter, which some people press without meaning to. */
export function LetterKeys() {
  const [on, setOn] = useState(letterKeys.on());
  return (
    <label className="mt-1 flex items-baseline gap-2">
      <input
        type="checkbox"
        checked={on}
        onChange={(e) => {
          letterKeys.set(e.target.checked);
          setOn(e.target.checked);
        }}
        className="translate-y-0.5"
      />
      <span>
        Keys of one letter choose from the pad and take shots
        <span className="block text-sm text-soft">
          Switch them off if you dictate, or press keys without meaning to. It holds in this browser.
        </span>
      </span>
    </label>
  );
}
