import { beforeEach, expect, test, vi } from "vitest";
import { isNever, kept, preset } from "./state";

let stored: Record<string, unknown>;
beforeEach(() => {
  stored = {};
  vi.stubGlobal("chrome", { storage: { local: { get: () => Promise.resolve(stored) } } });
});

test("addresses on the list, and pages of the browser’s own, are never recorded", () => {
  for (const never of [
    "https://www.mybank.example/a",
    "https://mail.example.org/",
    "https://a.mail.example/",
    "chrome://settings",
    "about:blank",
  ])
    expect(isNever(never, preset), never).toBe(true);
  for (const fine of ["https://email.example/", "http://127.0.0.1:8420/", "file:///tmp/a.html"])
    expect(isNever(fine, preset), fine).toBe(false);
  expect(isNever("https://intranet.example/", [" Intranet.* ", ""])).toBe(true);
  expect(isNever("https://intranetXexample/", ["intranet.example"])).toBe(false); // a dot is a dot
});

test("runs go to the chosen house as long as it is one of those known, else to the first", async () => {
  expect(await kept()).toEqual({ houses: [], house: "", never: preset });
  const houses = [{ address: "http://a" }, { address: "http://b" }];
  stored = { houses, house: "http://b" };
  expect((await kept()).house).toBe("http://b");
  stored = { houses, house: "http://gone" };
  expect((await kept()).house).toBe("http://a");
});
