import { useState } from "react";
import { parsed } from "../../base/typed";

type Followed = { done: string[]; at?: string };

const keyOf = (account: string, document: string) => `raconte-followed ${account} ${document}`;

function read(key: string): Followed {
  try {
    const { done = [], at } = parsed<Partial<Followed>>(sessionStorage.getItem(key) ?? "{}");
    return { done: Array.isArray(done) ? done : [], at };
  } catch {
    return { done: [] };
  }
}

/** Which steps a reader has done, and where they were last: kept for the visit, in this browser. */
export function useFollowed(account: string, document: string) {
  const key = keyOf(account, document);
  const [, setStamp] = useState(0);
  const followed = read(key);
  const change = (next: (was: Followed) => Followed) => {
    sessionStorage.setItem(key, JSON.stringify(next(read(key))));
    setStamp((n) => n + 1);
  };
  return {
    done: (step: string) => followed.done.includes(step),
    count: followed.done.length,
    at: followed.at,
    tick: (step: string, on: boolean) =>
      change((was) => ({ ...was, done: [...was.done.filter((s) => s !== step), ...(on ? [step] : [])] })),
    begin: (step: string) => change((was) => ({ ...was, at: step })),
    again: () => change(() => ({ done: [] })),
  };
}
