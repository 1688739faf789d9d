import "fake-indexeddb/auto";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type * as Queue from "./queue";

const houses = [
  { address: "http://one.example", token: "1", name: "Ines" },
  { address: "http://two.example", token: "2", name: "Ines" },
];
let stored: Record<string, unknown>;
let sent: string[];
let answers: Record<string, (id: string) => Response | Promise<Response>>;
let queue: typeof Queue;

const says = (status: number, message?: string) => new Response(JSON.stringify(message ? { message } : {}), { status });
const shot = (id: string, house = houses[0]?.address ?? "") => ({
  id,
  house,
  run: "run",
  session: "A run",
  name: `Picture ${id}`,
  about: { action: { kind: "click" } },
  picture: new Blob([id]),
});
const left = async () => (await queue.held()).map((h) => `${h.name}: ${h.why}`);

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "Date"] });
  stored = { houses };
  sent = [];
  answers = { "one.example": () => says(200), "two.example": () => says(200) };
  vi.stubGlobal("chrome", {
    storage: {
      local: {
        get: () => Promise.resolve(stored),
        set: (some: object) => Promise.resolve(Object.assign(stored, some)),
      },
    },
  });
  vi.stubGlobal("fetch", async (address: string) => {
    const { host, pathname } = new URL(address);
    const id = pathname.split("/").at(-1) ?? "";
    sent.push(`${host} ${id}`);
    return (answers[host] as (id: string) => Response | Promise<Response>)(id);
  });
  indexedDB = new IDBFactory();
  vi.resetModules();
  queue = await import("./queue");
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

const { setImmediate } = globalThis as unknown as { setImmediate: (f: () => void) => void };

/** Keeps shots and has all that can go out sent. */
async function keep(...shots: ReturnType<typeof shot>[]) {
  for (const s of shots) await queue.add(s);
  queue.settle();
  await idle();
}
async function idle() {
  for (let i = 0; i < 60; i++) await new Promise<void>((r) => setImmediate(r));
}

test("shots are sent in their order, and kept until the server has them", async () => {
  answers["one.example"] = () => Promise.reject(new TypeError("no network"));
  await keep(shot("a"), shot("b"));
  expect(await queue.waiting()).toBe(2);
  expect(queue.trouble()).toContain("can’t be reached");
  expect(await left()).toEqual([]); // they go out by themselves
  sent = [];
  answers["one.example"] = () => says(200);
  await vi.advanceTimersByTimeAsync(3100);
  await idle();
  expect(sent).toEqual(["one.example a", "one.example b"]);
  expect(await queue.waiting()).toBe(0);
  expect(queue.trouble()).toBe("");
});

test("what is refused stays with the reason, though the next succeeds, until it is dropped", async () => {
  answers["one.example"] = (id) => (id === "a" ? says(422, "It has no pixels.") : says(200));
  await keep(shot("a"), shot("b"));
  expect(await left()).toEqual(["Picture a: It has no pixels."]);
  sent = [];
  await keep(shot("c"));
  expect(sent).toEqual(["one.example c"]); // what was refused is not sent again and again
  expect(await left()).toEqual(["Picture a: It has no pixels."]);
  const [held] = await queue.held();
  expect(await (await queue.picture(held?.n ?? 0))?.text()).toBe("a");
  await queue.drop(held?.n ?? 0);
  expect(await queue.waiting()).toBe(0);
});

test("houses don’t wait for each other: one that is revoked, gone or slow holds up its own shots alone", async () => {
  answers["one.example"] = () => says(401);
  await keep(shot("a"), shot("b", houses[1]?.address), shot("c", "http://gone.example"), shot("d", houses[1]?.address));
  expect(sent.filter((s) => s.startsWith("two"))).toEqual(["two.example b", "two.example d"]);
  expect(await left()).toEqual([
    expect.stringContaining("Picture a: http://one.example does not know this recorder any more"),
    expect.stringContaining("Picture c: This recorder is not connected with http://gone.example"),
  ]);
  answers["one.example"] = () => says(200);
  void queue.send();
  await idle();
  expect(await left()).toEqual([expect.stringContaining("Picture c")]);
});

test("the last act may turn out to be another for a moment", async () => {
  await queue.add(shot("a"));
  await idle();
  expect(sent).toEqual([]);
  await queue.amend({ kind: "double-click" });
  await vi.advanceTimersByTimeAsync(1600);
  await idle();
  expect(sent).toEqual(["one.example a"]);
});
