import { useSyncExternalStore } from "react";

/** What changes by itself, and tells whoever watches it. */
export class Store {
  private watchers = new Set<() => void>();
  private stamp = 0;

  subscribe = (watcher: () => void) => {
    this.watchers.add(watcher);
    return () => void this.watchers.delete(watcher);
  };

  /** Another number after each change. */
  snapshot = () => this.stamp;

  /** What was read before is so no more, though nobody is told yet. */
  protected outdate() {
    this.stamp++;
  }

  protected tell() {
    this.stamp++;
    this.watchers.forEach((w) => w());
  }
}

/** A store; what uses it is drawn again at every change of it. */
export function useWhole<S extends Store>(store: S): S {
  useSyncExternalStore(store.subscribe, store.snapshot);
  return store;
}

/** Something of a store; what uses it is drawn again when that is another, and not for the rest. */
export function useStore<S extends Store, T>(store: S, select: (store: S) => T): T {
  return useSyncExternalStore(store.subscribe, () => select(store));
}
