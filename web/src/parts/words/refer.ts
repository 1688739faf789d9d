import { createContext } from "react";

export type TargetKind = "step" | "section" | "figure" | "mark" | "document";

/** Something that words can refer to: what it reads as, and what it says. */
export type RefersTo = { kind: TargetKind; to: string; name: string; said: string };

/** What references in words read as, where they lead, and what they could refer to. */
export const Refer = createContext<{
  names: Record<string, string>;
  /** The address that a reference leads to; undefined where it leads nowhere. */
  href?: (kind: string, to: string) => string | undefined;
  targets?: () => RefersTo[];
}>({ names: {} });

/** Tells how references read now; editors listen, since numbers change while words are written. */
export class Names {
  private listeners = new Set<() => void>();
  constructor(private names: Record<string, string>) {}
  get = (to: string) => this.names[to] ?? "?";
  set(names: Record<string, string>) {
    if (names === this.names) return;
    this.names = names;
    this.listeners.forEach((l) => l());
  }
  listen(listener: () => void) {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}
