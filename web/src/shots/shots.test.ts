import "fake-indexeddb/auto";
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { About } from "../api/client";

// What the server would do: it keeps shots in the order they come, once each, while it is reachable.
const server = { up: true, kept: [] as string[], asked: 0, refuse: "" };

vi.mock("../core/core", () => ({
  loadCore: () => Promise.resolve(),
  core: { shotName: (n: { n: number; used: string[] }) => (n.used.length ? `shot ${n.n} (2)` : `shot ${n.n}`) },
}));
vi.mock("../api/events", () => ({ listen: () => () => undefined }));
vi.mock("../api/client", () => {
  class Problem extends Error {
    constructor(
      readonly status: number,
      message: string,
    ) {
      super(message);
    }
  }
  const reach = () => (server.up ? Promise.resolve({}) : Promise.reject(new Problem(0, "out of reach")));
  return {
    Problem,
    expect: (call: Promise<unknown>) => call,
    api: { GET: () => Promise.reject(new Problem(404, "not there yet")), PUT: reach },
  };
});

const memory = new Map<string, string>();
vi.stubGlobal("localStorage", {
  getItem: (k: string) => memory.get(k) ?? null,
  setItem: (k: string, v: string) => void memory.set(k, v),
  removeItem: (k: string) => void memory.delete(k),
});
let lock = Promise.resolve();
vi.stubGlobal("navigator", {
  locks: { request: (_: string, work: () => Promise<void>) => (lock = lock.then(work)) },
});
vi.stubGlobal("fetch", (address: string, { body }: { body: FormData }) => {
  server.asked++;
  if (!server.up) return Promise.reject(new TypeError("failed"));
  const id = address.split("/").pop() ?? "";
  if (body.get("name") === server.refuse) {
    return Promise.resolve(new Response(JSON.stringify({ message: "no picture" }), { status: 422 }));
  }
  if (!server.kept.includes(id)) server.kept.push(id);
  return Promise.resolve(
    new Response(JSON.stringify({ id, name: body.get("name"), capture: address.split("/")[3], about: {} })),
  );
});

const about: About = { taken: "2026-11-23T10:42:00Z", source: "screen" };
const picture = () => ({ blob: new Blob(["x"]), thumb: new Blob(["y"]), width: 10, height: 10, about });

/** A page, as after a reload: everything in memory is new. */
async function page() {
  vi.resetModules();
  const { shots } = await import("./shots");
  await shots.start();
  return shots;
}

beforeEach(() => {
  server.up = true;
  server.refuse = "";
  server.kept = [];
  memory.clear();
});

describe("shots", () => {
  test("are seen at once and go up in the order taken", async () => {
    const shots = await page();
    const ids: string[] = [];
    for (let i = 0; i < 5; i++) ids.push((await shots.add(picture())).id);
    expect(shots.list().map((s) => s.name)).toEqual([
      "shot 1.png",
      "shot 2.png",
      "shot 3.png",
      "shot 4.png",
      "shot 5.png",
    ]);
    await vi.waitFor(() => expect(server.kept).toEqual(ids));
    await vi.waitFor(() => expect(shots.waiting).toBe(0));
    expect(shots.list().every((s) => s.taken)).toBe(true);
  });

  test("that could not go up are there after a reload, in order, and go up once each", async () => {
    server.up = false;
    const first = await page();
    const ids: string[] = [];
    for (let i = 0; i < 4; i++) ids.push((await first.add(picture())).id);
    await vi.waitFor(() => expect(first.trouble).not.toBe(""));
    first.close();
    const second = await page();
    expect(second.list().map((s) => s.id)).toEqual(ids);
    expect(second.waiting).toBe(4);
    server.up = true;
    await vi.waitFor(() => expect(server.kept).toEqual(ids), { timeout: 5000 });
    await vi.waitFor(() => expect(second.waiting).toBe(0));
    second.close();
    expect((await page()).waiting).toBe(0);
  });

  test("that the server refuses say why, do not stop the others, and stay until a person removes them", async () => {
    server.refuse = "shot 2.png";
    const shots = await page();
    const ids: string[] = [];
    for (let i = 0; i < 3; i++) ids.push((await shots.add(picture())).id);
    await vi.waitFor(() => expect(server.kept).toEqual([ids[0], ids[2]]));
    await vi.waitFor(() => expect(shots.get(ids[1] ?? "")?.error).toBe("no picture"));
    shots.close();
    const again = await page();
    expect(again.get(ids[1] ?? "")?.error).toBe("no picture");
    await again.dismiss(ids[1] ?? "");
    expect(again.waiting).toBe(0);
    expect(server.kept).toHaveLength(2);
  });
});
