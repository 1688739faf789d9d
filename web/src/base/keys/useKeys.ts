import { useLayoutEffect, useRef } from "react";
import { type Binding, enter } from "./keymap";

/** What keys mean as long as something is on the page; they mean what they meant at the last drawing of it. */
export function useKeys(name: string, bindings: readonly Binding[], on: EventTarget = window) {
  const latest = useRef(bindings);
  useLayoutEffect(() => {
    latest.current = bindings;
  });
  useLayoutEffect(() => enter(on, { name, bindings: () => latest.current }), [name, on]);
}
