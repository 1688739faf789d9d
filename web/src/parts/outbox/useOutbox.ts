import { useSyncExternalStore } from "react";
import { outbox } from "./outbox";

export function useOutbox() {
  useSyncExternalStore(outbox.subscribe, outbox.snapshot);
  return outbox;
}
