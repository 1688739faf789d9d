import { useEffect, useState } from "react";
import { unsent } from "./unsent";
import { parsed } from "../typed";

/** Whoever closes the page with something unsaved is asked. */
export function useAskFirst(unsaved: boolean) {
  useEffect(() => {
    if (!unsaved) return;
    const ask = (e: BeforeUnloadEvent) => e.preventDefault();
    addEventListener("beforeunload", ask);
    return () => removeEventListener("beforeunload", ask);
  }, [unsaved]);
}

type Versioned<T> = { version: number; value: T };

/**
 * What someone changes of what the house has, begun on the version that they saw: what others save meanwhile is never
 * written over unseen. It is there again after another screen was opened.
 */
export function useEdited<T>(keep: string, live: Versioned<T> | undefined) {
  const [edited, setEdited] = useState<Versioned<T> | undefined>(() => {
    const begun = unsent.get(keep);
    return begun ? parsed<Versioned<T>>(begun) : undefined;
  });
  useAskFirst(edited !== undefined);
  const put = (next: Versioned<T> | undefined) => {
    if (next) unsent.set(keep, JSON.stringify(next));
    else unsent.delete(keep);
    setEdited(next);
  };
  return {
    value: edited ? edited.value : live?.value,
    version: edited?.version ?? live?.version ?? 0,
    changed: edited !== undefined,
    set: (value: T) => put({ version: edited?.version ?? live?.version ?? 0, value }),
    /** What others have saved is seen: what was written counts as written on it. */
    seen: (version: number) => edited && put({ ...edited, version }),
    done: () => put(undefined),
  };
}
