import { Fragment, useEffect, useState } from "react";
import { Panel } from "../../base/ui/controls";
import { keysOn } from "../../base/keys/keymap";
import { useKeyLabels } from "../../base/keys/labels";
import { useKeys } from "../../base/keys/useKeys";
import { LetterKeys } from "./LetterKeys";
import { wanted } from "./showKeys";

/** The keys of the page, as they are now; ? opens the list. */
export function KeyList() {
  const [shown, setShown] = useState<ReturnType<typeof keysOn>>();
  const open = () => setShown(keysOn(window));
  useEffect(() => {
    addEventListener(wanted, open);
    return () => removeEventListener(wanted, open);
  }, []);
  useKeys("Everywhere", [{ keys: "?", does: "Show which keys mean what", run: open }]);
  if (!shown) return null;
  return (
    <Panel title="Keys on this page" wide onDone={() => setShown(undefined)}>
      <div className={shown.length > 1 ? "gap-8 sm:columns-2" : ""}>
        {shown.map((scope) => (
          <section key={scope.name} className="mb-5 break-inside-avoid">
            <h3 className="mb-1 font-bold">{scope.name}</h3>
            <dl className="grid grid-cols-[11rem_1fr] items-baseline gap-x-3 gap-y-1">
              {scope.keys.map((k) => (
                <Fragment key={k.does}>
                  <dt className="flex flex-wrap gap-1">
                    {k.keys.map((keys) => (
                      <Keys key={keys} keys={keys} />
                    ))}
                  </dt>
                  <dd>{k.does}</dd>
                </Fragment>
              ))}
            </dl>
          </section>
        ))}
      </div>
      <LetterKeys />
    </Panel>
  );
}

const apple = typeof navigator !== "undefined" && /Mac|iP(hone|ad)/.test(navigator.platform);

function Keys({ keys }: { keys: string }) {
  const label = useKeyLabels();
  const said = keys
    .split("+")
    .map((k) => (/^[A-Z]$/.test(k) && !keys.startsWith("Ctrl") ? label(`Key${k}`) : apple && k === "Ctrl" ? "⌘" : k));
  return (
    <kbd className="rounded border border-line bg-desk px-1.5 font-mono text-sm whitespace-nowrap">
      {said.join("+")}
    </kbd>
  );
}
