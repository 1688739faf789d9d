import "fake-indexeddb/auto";
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { About } from "../../base/api/client";

// What the server would do: it keeps shots in the order they come, once each, while it is reachable.
const server = { up: true, kept: [] as string[], asked: 0, refuse: "" };
const events: { shot?: (taken: unknown) => void } = {};
const unread = () => Promise.reject(new Error("not there yet"));
let readSession: () => Promise<unknown> = unread;

vi.mock("../../base/core/core", () => ({
  loadCore: () => Promise.resolve(),
  core: { shotName: (n: { n: number; used: string[] }) => (n.used.length ? `shot ${n.n} (2)` : `shot ${n.n}`) },
}));
vi.mock("../../base/api/events", () => ({
  listen: (heard: object) => (Object.assign(events, heard), () => undefined),
}));
vi.mock("../../base/api/client", async (original) => {
  const client = await original<typeof import("../../base/api/client")>();
  const reach = () => (server.up ? Promise.resolve({}) : Promise.reject(new client.Problem(0, "out of reach")));
  return { ...client, expect: (call: Promise<unknown>) => call, api: { GET: () => readSession(), PUT: reach } };
});

const memory = new Map<string, string>();
vi.stubGlobal("localStorage", {
  getItem: (k: string) => memory.get(k) ?? null,
  setItem: (k: string, v: string) => void memory.set(k, v),
  removeItem: (k: string) => void memory.delete(k),
});
const locks = new Map<string, Promise<void>>(); // each is one page's at a time
vi.stubGlobal("navigator", {
  locks: {
    request: (name: string, work: () => Promise<void>) => {
      const turn = (locks.get(name) ?? Promise.resolve()).then(work);
      locks.set(name, turn);
      return turn;
    },
  },
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

/** A page of a person, as after a reload: everything in memory is new. */
async function page(account = "ines") {
  vi.resetModules();
  (await import("../../base/storage/storage")).enter(account);
  const { shots } = await import("./shots");
  await shots.start();
  return shots;
}
let open: { close: () => void }[] = [];

beforeEach(() => {
  open.forEach((o) => o.close());
  open = [];
  server.up = true;
  server.refuse = "";
  server.kept = [];
  readSession = unread;
  memory.clear();
});

/** What an older Raconte kept in this browser for everybody together. */
async function older(version: number, fill: (db: IDBDatabase) => void) {
  await new Promise<void>((resolve, reject) => {
    const asked = indexedDB.open("raconte", version);
    asked.onupgradeneeded = () => {
      const made = asked.result;
      made.createObjectStore("drafts");
      made.createObjectStore("edits");
      made.createObjectStore("uploads", { keyPath: "shot" }).createIndex("document", "document");
      if (version < 2) return;
      made.createObjectStore("shots", { keyPath: "n", autoIncrement: true });
      made.createObjectStore("figures");
    };
    asked.onerror = () => reject(new Error("not opened"));
    asked.onsuccess = () => {
      fill(asked.result);
      asked.result.close();
      resolve();
    };
  });
}

describe("what this browser keeps", () => {
  test("is each account's own", async () => {
    server.up = false;
    const mine = await page("ada");
    open.push(mine);
    await mine.add(picture());
    expect(mine.waiting).toBe(1);
    mine.close();
    server.up = true;
    const theirs = await page("bert");
    open.push(theirs);
    expect(theirs.waiting).toBe(0);
    expect(theirs.list()).toEqual([]);
    await new Promise((r) => setTimeout(r, 50));
    expect(server.kept).toEqual([]);
    theirs.close();
    open.push(await page("ada"));
    await vi.waitFor(() => expect(server.kept).toHaveLength(1));
  });

  test.each([1, 2])(
    "goes over from version %i with all its data, to the one whose drafts lie with it",
    async (version) => {
      const id = `v${version}`;
      const state = { order: "00A000", removed: false, content: { words: { type: "doc" }, figures: [] } };
      await older(version, (db) => {
        const put = (store: string, value: unknown, key?: IDBValidKey) =>
          db.transaction(store, "readwrite").objectStore(store).put(value, key);
        put("drafts", { pending: [{ id: "s", base: 1, state }], position: 1 }, `${id} doc`);
        put("edits", { label: "Write", steps: [{ id: "s", before: state, after: state }], at: 1 }, [`${id} doc`, 0]);
        put("uploads", {
          shot: `${id}-upload`,
          document: "doc",
          name: "a.png",
          blob: new Blob(["x"]),
          error: "too large",
        });
        if (version === 2) {
          put("shots", { shot: `${id}-shot`, capture: "c", session: "S", name: "b.png", ...picture() });
          put("figures", { figure: { id: "f", shot: "x", alt: "", marks: [] }, past: [], future: [] }, "x");
        }
      });
      open.push(await page(`${id}-other`));
      expect(server.kept).toEqual([]);
      const mine = await page(id);
      open.push(mine);
      const { storage } = await import("../../base/storage/storage");
      const { draft, edits } = await storage.load(`${id} doc`);
      expect(draft?.pending).toHaveLength(1);
      expect(edits).toHaveLength(1);
      expect(await storage.unsaved()).toEqual(["doc"]);
      const { outbox } = await import("../outbox/outbox");
      expect(outbox.get(`${id}-upload`)?.error).toBe("too large");
      if (version === 2) {
        await vi.waitFor(() => expect(server.kept).toEqual([`${id}-shot`]));
        expect((await storage.figure("x"))?.figure.id).toBe("f");
      }
      expect((await indexedDB.databases()).map((d) => d.name)).not.toContain("raconte");
    },
  );
});

describe("shots", () => {
  test("are seen at once and go up in the order taken", async () => {
    const shots = await page();
    open.push(shots);
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

  test("that arrive while the session is being read stay in it", async () => {
    const shots = await page();
    open.push(shots);
    const taken = (id: string) => ({ id, name: id, capture: "run", about });
    let answer: (got: unknown) => void = () => undefined;
    readSession = () => new Promise((r) => (answer = r));
    const joined = shots.join({ id: "run", name: "A run" });
    events.shot?.(taken("late"));
    answer({ shots: [taken("early")] });
    await joined;
    expect(shots.list().map((i) => i.id)).toEqual(["early", "late"]);
  });

  test("that could not go up are there after a reload, in order, and go up once each", async () => {
    server.up = false;
    const first = await page();
    open.push(first);
    const ids: string[] = [];
    for (let i = 0; i < 4; i++) ids.push((await first.add(picture())).id);
    await vi.waitFor(() => expect(first.trouble).not.toBe(""));
    first.close();
    const second = await page();
    open.push(second);
    expect(second.list().map((s) => s.id)).toEqual(ids);
    expect(second.waiting).toBe(4);
    server.up = true;
    await vi.waitFor(() => expect(server.kept).toEqual(ids), { timeout: 5000 });
    await vi.waitFor(() => expect(second.waiting).toBe(0));
    second.close();
    expect((await page()).waiting).toBe(0);
  });

  test("that this browser has no room for are told of, stay in memory, and go up all the same", async () => {
    server.up = false;
    const shots = await page();
    open.push(shots);
    const { outbox } = await import("../outbox/outbox");
    const full = vi.spyOn(IDBObjectStore.prototype, "add").mockImplementation(() => {
      throw new DOMException("no room", "QuotaExceededError");
    });
    const { id } = await shots.add(picture());
    full.mockRestore();
    expect(outbox.unkept.map((s) => s.shot)).toEqual([id]);
    expect(outbox.unkept[0]?.blob.size).toBe(1);
    server.up = true;
    await vi.waitFor(() => expect(server.kept).toEqual([id]), { timeout: 5000 });
    await vi.waitFor(() => expect(outbox.unkept).toEqual([]));
  });

  test("that are up and can't be let go of are not sent again and again", async () => {
    const shots = await page("stuck");
    open.push(shots);
    const stuck = vi.spyOn(IDBObjectStore.prototype, "delete").mockImplementation(() => {
      throw new DOMException("gone", "InvalidStateError");
    });
    const asked = server.asked;
    await shots.add(picture());
    await vi.waitFor(() => expect(shots.waiting).toBe(0));
    await shots.add(picture());
    await vi.waitFor(() => expect(shots.waiting).toBe(0));
    stuck.mockRestore();
    expect(server.asked - asked).toBe(2);
  });

  test("that the server refuses say why, do not stop the others, and stay until a person removes them", async () => {
    server.refuse = "shot 2.png";
    const shots = await page();
    open.push(shots);
    const ids: string[] = [];
    for (let i = 0; i < 3; i++) ids.push((await shots.add(picture())).id);
    await vi.waitFor(() => expect(server.kept).toEqual([ids[0], ids[2]]));
    await vi.waitFor(() => expect(shots.get(ids[1] ?? "")?.error).toBe("no picture"));
    shots.close();
    const again = await page();
    open.push(again);
    expect(again.get(ids[1] ?? "")?.error).toBe("no picture");
    await again.dismiss(ids[1] ?? "");
    expect(again.waiting).toBe(0);
    expect(server.kept).toHaveLength(2);
  });
});
