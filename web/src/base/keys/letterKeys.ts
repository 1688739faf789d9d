import { local } from "../storage/local";

const key = "raconte-letter-keys";

/** Keys of one letter that choose from the pad. Whoever dictates, or presses keys by accident, can switch them off. */
export const letterKeys = {
  on: () => local.get(key) !== "off",
  set: (on: boolean) => local.set(key, on ? "on" : "off"),
};
