import { useEffect } from "react";
import { begin } from "../account/begin";
import type { Account } from "../../base/api/client";
import { useOutbox } from "../outbox/useOutbox";
import { shown } from "../../base/ui/shown";

/** Brings up what this browser keeps, whichever place is looked at, and says what is not on the server yet. */
export default function Waiting({ account }: { account: Account }) {
  useEffect(() => begin(account), [account]);
  const { waiting, trouble, documents } = useOutbox();
  const [title] = documents.values();
  const pictures = waiting === 1 ? "1 picture" : `${waiting} pictures`;
  const words = [
    ...(trouble && waiting > 0 ? [`${trouble}. ${pictures} ${waiting === 1 ? "waits" : "wait"} in this browser.`] : []),
    ...(!trouble && waiting > 0 ? [`${pictures} on the way.`] : []),
    ...(title === undefined ? [] : [`Changes to “${shown(title)}” are being saved.`]),
  ].join(" ");
  if (!words) return null;
  return (
    <span role="status" title={words} className={`max-w-80 truncate text-sm ${trouble ? "text-call" : "text-mist"}`}>
      {words}
    </span>
  );
}
