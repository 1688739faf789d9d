import type { Check, House, Run } from "./types";

// What is remembered. A background script may be ended and begun again between any two events, so that nothing that
// matters is kept in variables alone.

export const idle: Run = { state: "idle", id: "", session: "", house: "", taken: 0 };

/** Hosts that are never recorded, before a person changes the list; a star stands for anything. */
export const preset = ["*bank*", "mail.*", "webmail.*", "*.mail.*"];

type Kept = { houses: House[]; house: string; never: string[] };

export async function kept(): Promise<Kept> {
  const {
    houses = [],
    house = "",
    never = preset,
  } = await chrome.storage.local.get<Partial<Kept>>(["houses", "house", "never"]);
  return { houses, house: houses.some((h) => h.address === house) ? house : (houses[0]?.address ?? ""), never };
}

export const keep = (some: Partial<Kept>) => chrome.storage.local.set(some);

export async function readRun(): Promise<Run> {
  const { run } = await chrome.storage.session.get<{ run?: Run }>("run");
  return run ?? idle;
}

export const keepRun = (run: Run) => chrome.storage.session.set({ run });

export async function readCheck(): Promise<Check | undefined> {
  return (await chrome.storage.session.get<{ check?: Check }>("check")).check;
}

export const keepCheck = (check: Check) => chrome.storage.session.set({ check });

/** Whether an address is one of those that are never recorded. */
export function isNever(address: string, never: string[]): boolean {
  if (!/^(https?|file):/.test(address)) return true;
  const { hostname } = new URL(address);
  return never.some((pattern) => {
    const parts = pattern
      .trim()
      .toLowerCase()
      .split("*")
      .map((p) => p.replace(/[.+?^${}()|[\]\\]/g, "\\$&"));
    return pattern.trim() !== "" && new RegExp(`^${parts.join(".*")}$`).test(hostname);
  });
}
