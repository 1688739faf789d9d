import "fake-indexeddb/auto";
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { Block, Change, Changes, Content, Facts, WholeDocument } from "../../base/api/client";
import { enter, storage } from "../../base/storage/storage";
import { Draft } from "./draft";
import { tidy } from "../../base/api/content";
import { sure } from "../../base/typed";

// A server in memory that keeps the promises of POST and GET changes: all or nothing, versions, once for each id.
const server = vi.hoisted(() => ({
  rows: new Map<string, Row>(),
  seq: 0,
  facts: { title: "Title" },
  factsVersion: 1,
  applied: new Map<string, number>(),
  refuses: "", // words that it takes in no step
  tried: 0,
  posts: [] as Change[],
  // The network fails before the server hears or answers; it breaks after it heard; it has too much to do.
  down: "",
}));
type Row = { id: string; order: string; version: number; removed: boolean; content: Content; seq: number };

function answer(rows: Row[]): Changes {
  const { seq, factsVersion } = server;
  const facts = Object.fromEntries(Object.entries(server.facts).reverse()) as unknown as Facts; // keys come back in any order
  const blocks = rows.map((r) => ({ ...r, changedBy: "Tomasz", markers: {}, alts: {} })) as Block[];
  return structuredClone({ seq, facts, factsVersion, state: "draft", revision: 0, blocks, shots: [] });
}

function apply(change: Change): { status: number; body: Changes } {
  const then = server.applied.get(change.id);
  const now = () => answer(change.blocks.flatMap((s) => server.rows.get(s.id) ?? []));
  if (then) return { status: 200, body: { ...now(), seq: then } };
  if (change.blocks.some((b) => read(b.content) === server.refuses)) return { status: 422, body: {} as Changes };
  const stale = change.blocks.filter((s) => (server.rows.get(s.id)?.version ?? 0) !== s.base);
  const restated = change.facts && change.facts.base !== server.factsVersion;
  if (stale.length || restated) {
    return { status: 409, body: answer(stale.flatMap((s) => server.rows.get(s.id) ?? [])) };
  }
  server.seq++;
  for (const s of change.blocks) server.rows.set(s.id, { ...structuredClone(s), version: s.base + 1, seq: server.seq });
  if (change.facts) Object.assign(server, { facts: change.facts.facts, factsVersion: server.factsVersion + 1 });
  server.applied.set(change.id, server.seq);
  return { status: 200, body: now() };
}

vi.mock("../../base/core/core", () => ({
  core: {
    span: (rows: { content: { type: string } }[], at: number) => {
      if (rows[at]?.content.type !== "section") return 1;
      const next = rows.findIndex((r, i) => i > at && r.content.type === "section");
      return (next < 0 ? rows.length : next) - at;
    },
    // Enough of the core's order keys for these tests: a number between two others.
    arrange: (keys: string[], at: number, n: number) => {
      const [a, b] = [Number(keys[at - 1] ?? 0), Number(keys[at] ?? 999999)];
      return {
        keys: Array.from({ length: n }, (_, i) =>
          String(Math.round(a + ((b - a) * (i + 1)) / (n + 1))).padStart(6, "0"),
        ),
      };
    },
  },
}));

vi.mock("../../base/api/client", async (original) => ({
  ...(await original<typeof import("../../base/api/client")>()),
  api: {
    POST: async (_: string, { body }: { body: Change }) => {
      if (server.down === "before") throw new TypeError("network");
      if (server.down === "busy") {
        server.down = "";
        return {
          error: { message: "Later." },
          response: { status: 429, headers: new Headers({ "Retry-After": "7" }) },
        };
      }
      server.posts.push(structuredClone(body));
      server.tried++;
      const { status, body: out } = apply(body);
      if (server.down === "after") throw new TypeError("network");
      if (server.down === "broken") return { error: { message: "broken" }, response: { status: 500 } };
      return status === 200 ? { data: out, response: { status } } : { error: out, response: { status } };
    },
    GET: async (_: string, { params }: { params: { query: { since: number } } }) => ({
      data: answer([...server.rows.values()].filter((r) => r.seq > params.query.since)),
    }),
  },
}));

const says = (text: string): Content =>
  ({
    type: "step",
    words: { type: "doc", content: [{ type: "paragraph", content: [{ type: "text", text }] }] },
    figures: [],
  }) as never;
const read = (content: Content) => JSON.stringify(content.words).match(/"text":"(.*?)"/)?.[1] ?? "";

// Locks as browsers have them, as far as they are asked for here.
const held = new Set<string>();
vi.stubGlobal("navigator", {
  locks: {
    request: async (name: string, _: object, work: (lock: object | null) => unknown) => {
      if (held.has(name)) return work(null);
      held.add(name);
      await work({});
      held.delete(name);
    },
  },
});

let account = 0;
beforeEach(() => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "Date"] });
  server.rows.clear();
  server.applied.clear();
  Object.assign(server, { seq: 1, facts: { title: "Title" }, factsVersion: 1, posts: [], down: "", refuses: "" });
  for (const [i, id] of ["a", "b", "c"].entries()) {
    server.rows.set(id, { id, order: `00${i + 1}000`, version: 1, removed: false, content: says(id), seq: 1 });
  }
  account++;
});

function whole(): WholeDocument {
  const rows = answer([...server.rows.values()]).blocks;
  return {
    summary: { id: "d", title: server.facts.title, state: "draft", revision: 0 },
    facts: server.facts,
    factsVersion: server.factsVersion,
    seq: server.seq,
    blocks: rows.filter((r) => !r.removed),
    removed: rows.filter((r) => r.removed),
    shots: [],
  } as unknown as WholeDocument;
}
const open = () => {
  enter("tester");
  return Draft.open(`account ${account}`, whole());
};
const turn = () =>
  new Promise<void>((r) => (globalThis as unknown as { setImmediate(f: () => void): void }).setImmediate(r));
const pass = async (ms = 500) => {
  await vi.advanceTimersByTimeAsync(ms);
  await turn(); // lets the fake IndexedDB work
  await vi.advanceTimersByTimeAsync(20);
};
const words = (draft: Draft) => draft.blocks().map((r) => read(r.content));
const strip = (id: string) => ({ order: sure(server.rows.get(id)).order, removed: false });
/** Someone else writes a step on the server. */
const elsewhere = (id: string, text: string) => {
  const row = sure(server.rows.get(id));
  server.seq++;
  server.rows.set(id, { ...row, content: says(text), version: row.version + 1, seq: server.seq });
};

describe("saving", () => {
  test("an opened document has nothing to save", async () => {
    const draft = await open();
    await pass();
    expect(server.posts).toEqual([]);
    expect(draft.status.kind).toBe("saved");
  });

  test("typing is on the page at once and saved once after a pause", async () => {
    const draft = await open();
    let told = 0;
    draft.subscribe(() => told++);
    for (const text of ["x", "xy", "xyz"]) draft.type("a", says(text).words);
    expect(words(draft)).toEqual(["xyz", "b", "c"]);
    expect(told).toBe(0); // no letter waits for the page
    await pass(150);
    expect(told).toBe(1);
    expect(draft.status.kind).toBe("saving");
    await pass();
    expect(server.posts).toHaveLength(1);
    expect(read(sure(server.rows.get("a")).content)).toBe("xyz");
    expect(draft.status.kind).toBe("saved");
  });

  test("what is typed while a save is under way is saved next, from the new version", async () => {
    const draft = await open();
    draft.patch("Write words", ["a"], () => says("one"), true);
    const saving = pass(400);
    draft.patch("Write words", ["a"], () => says("two"), true);
    await saving;
    await pass();
    expect(read(sure(server.rows.get("a")).content)).toBe("two");
    expect(draft.conflicts.size).toBe(0);
  });

  test.each(["after", "broken"] as const)(
    "a change that got no answer (%s) is sent again as it was, and is no conflict with oneself",
    async (how) => {
      const draft = await open();
      server.down = how;
      draft.patch("Write words", ["a"], () => says("once"));
      await pass();
      expect(draft.status).toMatchObject({ kind: "kept" });
      draft.patch("Write words", ["a"], () => says("once and more"));
      server.down = "";
      await pass(8000);
      expect(server.posts[0]?.id).toBe(server.posts[1]?.id);
      expect(draft.conflicts.size).toBe(0);
      expect(read(sure(server.rows.get("a")).content)).toBe("once and more");
    },
  );

  test("a colleague who goes on from a change whose answer was lost is not written over, and is no conflict", async () => {
    const draft = await open();
    server.down = "after";
    draft.patch("Write words", ["a"], () => says("mine"));
    await pass();
    server.down = "";
    elsewhere("a", "mine, and more");
    await draft.heard({ seq: server.seq });
    await pass(8000);
    await pass();
    expect(draft.conflicts.size).toBe(0);
    expect(words(draft)[0]).toBe("mine, and more");
    expect(read(sure(server.rows.get("a")).content)).toBe("mine, and more");
  });

  test("what is refused for now is sent again when the server says", async () => {
    const draft = await open();
    server.down = "busy";
    draft.patch("Write words", ["a"], () => says("later"));
    await pass();
    expect(draft.status).toMatchObject({ kind: "kept", why: "Later" });
    await pass(5000);
    expect(server.posts).toEqual([]);
    await pass(2000);
    expect(read(sure(server.rows.get("a")).content)).toBe("later");
    expect(draft.status.kind).toBe("saved");
  });

  test("what the server does not take is set aside with its reason, and all else is saved", async () => {
    fill(["a", "b", "c", "d", "e"]);
    const draft = await open();
    server.refuses = "bad";
    draft.patchAll("Write words", ({ content }) => (read(content) === "d" ? says("bad") : says("good")));
    draft.rename("Renamed");
    await pass();
    for (let n = 0; n < 8; n++) await pass(20);
    expect([...server.rows.values()].map((r) => read(r.content)).sort()).toEqual(["d", "good", "good", "good", "good"]);
    expect(server.facts.title).toBe("Renamed");
    expect(draft.refusals()).toEqual([{ id: "d", why: "Raconte refused the change" }]);
    expect(draft.status.kind).toBe("refused");
    await draft.settled();
    draft.patch("Write words", ["d"], () => says("better"));
    await pass();
    expect(read(sure(server.rows.get("d")).content)).toBe("better");
    expect(draft.status.kind).toBe("saved");
  });

  test("one step and a title that are both refused are not sent again and again", async () => {
    const draft = await open();
    server.refuses = "bad";
    draft.patch("Write words", ["c"], () => says("bad"));
    draft.rename("Good");
    await pass();
    for (let n = 0; n < 8; n++) await pass(20);
    const sent = server.tried;
    for (let n = 0; n < 8; n++) await pass(500);
    expect(server.tried).toBe(sent);
    expect(server.facts.title).toBe("Good");
    expect(draft.refusals().map((r) => r.id)).toEqual(["c"]);
  });

  test("a step whose picture is on its way waits; the others do not", async () => {
    const draft = await open();
    let arrived = false;
    draft.awaiting = (shot) => shot === "s" && !arrived;
    const said: string[] = [];
    draft.subscribe(() => said.push(draft.status.kind));
    draft.insert("Add a picture", 3, [{ ...says("picture"), figures: [{ id: "f", shot: "s", alt: "", marks: [] }] }]);
    draft.patch("Write words", ["a"], () => says("meanwhile"));
    await pass();
    expect(server.rows.size).toBe(3);
    expect(read(sure(server.rows.get("a")).content)).toBe("meanwhile");
    expect(said).not.toContain("saved"); // not for a moment, while a picture is missing
    arrived = true;
    draft.shotArrived({ id: "s", width: 1, height: 1, name: "s.png" });
    await pass();
    expect(server.rows.size).toBe(4);
  });

  test("what was not saved when the page went is there again, and goes up", async () => {
    const draft = await open();
    server.down = "before";
    draft.patch("Write words", ["b"], () => says("kept"));
    draft.rename("New title");
    await pass();
    draft.close();
    server.down = "";
    const again = await open();
    expect(words(again)).toEqual(["a", "kept", "c"]);
    expect(again.title).toBe("New title");
    await pass(3000);
    expect(read(sure(server.rows.get("b")).content)).toBe("kept");
    expect(server.facts.title).toBe("New title");
  });
});

describe("several pages of one person", () => {
  test("keep records of their own; those of pages that ended go to the next, and neither's words are lost", async () => {
    const one = await open();
    const two = await open();
    server.down = "before";
    one.patch("Write words", ["a"], () => says("of one"));
    one.patch("Write words", ["c"], () => says("c of one"));
    one.rename("Title of one");
    await pass();
    two.patch("Write words", ["a"], () => says("of two"));
    two.patch("Write words", ["b"], () => says("b of two"));
    await pass();
    const beside = await open();
    expect(words(beside), "what is another's, while that lives").toEqual(["a", "b", "c"]);
    one.close();
    await pass();
    two.close();
    await pass();
    const early = await open();
    expect(early.conflicts.has("a")).toBe(true);
    await pass();
    early.close(); // before anything was chosen
    await pass();
    const three = await open();
    expect(words(three)).toEqual(["of two", "b of two", "c of one"]);
    expect(three.title).toBe("Title of one");
    expect(read(sure(three.conflicts.get("a")?.content))).toBe("of one");
    server.down = "";
    three.settle("a", "theirs");
    await pass(8000);
    expect(["a", "b", "c"].map((id) => read(sure(server.rows.get(id)).content))).toEqual([
      "of one",
      "b of two",
      "c of one",
    ]);
    while (three.canUndo()) expect(three.undo()).toBe("");
    three.close();
    await pass();
    expect(await storage.unsaved()).not.toContain("d");
  });

  test("a page that ended after its last save was heard, and before it was answered, is no conflict", async () => {
    const draft = await open();
    server.down = "after";
    draft.patch("Write words", ["a"], () => says("one"));
    await pass();
    draft.patch("Write words", ["a"], () => says("one two"));
    await draft.keep();
    draft.close();
    server.down = "";
    const again = await open();
    expect(again.conflicts.size).toBe(0);
    expect(words(again)[0]).toBe("one two");
  });

  test("what an earlier Raconte kept of a document, in its one record, is there", async () => {
    const record = {
      position: 0,
      pending: [{ id: "b", base: 1, state: { ...strip("b"), content: says("kept long ago") } }],
    };
    enter("tester");
    await storage.saveDraft(`account ${account} d`, record);
    const draft = await open();
    expect(words(draft)).toEqual(["a", "kept long ago", "c"]);
    await pass();
    expect(read(sure(server.rows.get("b")).content)).toBe("kept long ago");
  });

  test("in a browser that keeps nothing a document opens, is saved, and says so", async () => {
    const denied = vi.spyOn(IDBFactory.prototype, "open").mockImplementation(() => {
      throw new DOMException("denied", "SecurityError");
    });
    vi.spyOn(IDBDatabase.prototype, "transaction").mockImplementation(() => {
      throw new DOMException("gone", "InvalidStateError");
    });
    const draft = await open();
    draft.patch("Write words", ["a"], () => says("from memory"));
    expect(draft.kept).toBe(false);
    await pass();
    expect(read(sure(server.rows.get("a")).content)).toBe("from memory");
    denied.mockRestore();
    vi.restoreAllMocks();
  });
});

describe("several people", () => {
  test("another's change of a step that is untouched here is taken at once", async () => {
    const draft = await open();
    elsewhere("b", "theirs");
    await draft.heard({ seq: server.seq });
    expect(words(draft)).toEqual(["a", "theirs", "c"]);
  });

  test("both versions are kept until a person chooses; nothing is overwritten meanwhile", async () => {
    const draft = await open();
    draft.patch("Write words", ["b"], () => says("mine"));
    elsewhere("b", "theirs");
    await pass();
    expect(read(sure(server.rows.get("b")).content)).toBe("theirs");
    expect(words(draft)[1]).toBe("mine");
    expect(read(sure(draft.conflicts.get("b")?.content))).toBe("theirs");
    expect(draft.status.kind).toBe("conflict");
    draft.patch("Write words", ["a"], () => says("goes on"));
    await pass();
    expect(read(sure(server.rows.get("a")).content)).toBe("goes on");
    draft.settle("b", "mine");
    await pass();
    expect(read(sure(server.rows.get("b")).content)).toBe("mine");
  });

  test("taking theirs can be undone", async () => {
    const draft = await open();
    draft.patch("Write words", ["b"], () => says("mine"));
    elsewhere("b", "theirs");
    await pass();
    draft.settle("b", "theirs");
    expect(words(draft)[1]).toBe("theirs");
    expect(draft.undo()).toBe("");
    await pass();
    expect(read(sure(server.rows.get("b")).content)).toBe("mine");
  });

  test("the same change made by both is no conflict", async () => {
    const draft = await open();
    draft.patch("Write words", ["b"], () => says("same"));
    elsewhere("b", "same");
    await pass();
    expect(draft.conflicts.size).toBe(0);
    expect(draft.status.kind).toBe("saved");
  });

  test("facts that come back in another order of keys are the same, and are saved once", async () => {
    const draft = await open();
    const notice = { signal: "danger", hazard: "Ammonia", consequence: "", avoid: "Leave" } as const;
    draft.setFacts("Add a notice", { ...draft.facts, notice });
    draft.setFacts("Say how long it takes", { ...draft.facts, seconds: 60 });
    await pass();
    await pass();
    expect(draft.status.kind).toBe("saved");
    expect(server.posts).toHaveLength(1);
    expect(draft.canUndo()).toBe("Say how long it takes");
    expect(draft.undo()).toBe("");
    expect(draft.facts.seconds).toBeUndefined();
  });

  test("two titles are told of, too", async () => {
    const draft = await open();
    draft.rename("Mine");
    Object.assign(server, { facts: { title: "Theirs" }, factsVersion: 2, seq: server.seq + 1 });
    await pass();
    expect(draft.factsConflict?.title).toBe("Theirs");
    expect(draft.title).toBe("Mine");
    draft.settleFacts("theirs");
    await pass();
    expect([draft.title, server.facts.title]).toEqual(["Theirs", "Theirs"]);
  });

  test("a change that was heard of while saving is asked for afterwards", async () => {
    const draft = await open();
    draft.patch("Write words", ["a"], () => says("mine"));
    const saving = vi.advanceTimersByTimeAsync(400);
    elsewhere("c", "theirs");
    await draft.heard({ seq: server.seq });
    await saving;
    await pass();
    expect(words(draft)).toEqual(["mine", "b", "theirs"]);
  });
});

describe("undo", () => {
  test("of a step that was added and saved is saved once, and is then at rest", async () => {
    const draft = await open();
    draft.insert("Add a step", 1, [says("new")]);
    await pass();
    expect(server.posts).toHaveLength(1);
    expect(draft.undo()).toBe("");
    await pass(3000);
    expect(server.posts).toHaveLength(2);
    expect(draft.status.kind).toBe("saved");
    expect(words(draft)).toEqual(["a", "b", "c"]);
  });

  test("goes back through everything and forward again, across a reload", async () => {
    let draft = await open();
    draft.move("a", 2);
    draft.remove("b");
    draft.insert("Add a step", 1, [says("new")]);
    draft.rename("Renamed");
    expect(words(draft)).toEqual(["c", "new", "a"]);
    await pass();
    draft.close();
    draft = await open();
    const past = [];
    while (draft.canUndo()) {
      expect(draft.undo()).toBe("");
      past.push([draft.title, ...words(draft)].join(" "));
    }
    expect(past).toEqual(["Title c new a", "Title c a", "Title b c a", "Title a b c"]);
    await pass();
    expect([...server.rows.values()].filter((r) => !r.removed)).toHaveLength(3);
    while (draft.canRedo()) expect(draft.redo()).toBe("");
    await pass();
    expect([draft.title, ...words(draft)]).toEqual(["Renamed", "c", "new", "a"]);
    expect(server.facts.title).toBe("Renamed");
  });

  test("what was awaited changes blocks as they are by then, not as they were", async () => {
    const draft = await open();
    const answer = new Promise<number>((done) => setTimeout(() => done(60), 500));
    const later = answer.then((seconds) => draft.patchAll("Say how long", ({ content }) => ({ ...content, seconds })));
    draft.type("a", says("typed meanwhile").words);
    elsewhere("b", "a colleague’s");
    await draft.heard({ seq: 99 });
    await pass();
    await later;
    expect(words(draft)).toEqual(["typed meanwhile", "a colleague’s", "c"]);
    expect(draft.blocks().map((r) => r.content.seconds)).toEqual([60, 60, 60]);
    await pass();
    expect(draft.conflicts.size).toBe(0);
  });

  test("typing in one go is one edit, and a new edit forgets what could be done again", async () => {
    const draft = await open();
    for (const text of ["x", "xy"]) draft.patch("Write words", ["a"], () => says(text), true);
    await pass(2000);
    draft.patch("Write words", ["a"], () => says("xyz"), true);
    draft.undo();
    expect(words(draft)[0]).toBe("xy");
    draft.undo();
    expect(words(draft)[0]).toBe("a");
    draft.redo();
    draft.remove("c");
    expect(draft.canRedo()).toBeUndefined();
  });

  test("a section moves with its steps, up and down, as one", async () => {
    const draft = await open();
    const [h] = draft.insert("Begin a section", 1, [{ ...says("h"), type: "section" }]);
    draft.insert("Begin a section", 3, [{ ...says("i"), type: "section" }]);
    expect(words(draft)).toEqual(["a", "h", "b", "i", "c"]);
    draft.move(h ?? "", 4); // to where the last block is: after it
    expect(words(draft)).toEqual(["a", "i", "c", "h", "b"]);
    draft.move(h ?? "", 4); // onto a step of its own: it stays
    draft.move(h ?? "", 0);
    expect(words(draft)).toEqual(["h", "b", "a", "i", "c"]);
    draft.undo();
    draft.undo();
    expect(words(draft)).toEqual(["a", "h", "b", "i", "c"]);
  });

  test("leaves alone what someone else has changed since, and says so", async () => {
    const draft = await open();
    draft.patch("Write words", ["a"], () => says("mine"));
    await pass();
    elsewhere("a", "theirs");
    await draft.heard({ seq: server.seq });
    expect(draft.undo()).toContain("Someone else has changed this since");
    await pass();
    expect(words(draft)[0]).toBe("theirs");
    expect(read(sure(server.rows.get("a")).content)).toBe("theirs");
  });
});

test("JSON that came back in another order of keys is the same", () => {
  expect(JSON.stringify(tidy({ b: [{ d: 1, c: undefined }], a: 2 }))).toBe('{"a":2,"b":[{"d":1}]}');
});

/** What the server has: blocks that say their ids; those in capitals are headings. */
function fill(ids: string[]) {
  server.rows.clear();
  for (const [i, id] of ids.entries()) {
    const type = /^[A-Z]$/.test(id) ? "section" : "step";
    const content = { ...says(id), type } as Content;
    server.rows.set(id, { id, order: `00${i + 1}000`, version: 1, removed: false, content, seq: 1 });
  }
}

describe("several blocks that were chosen", () => {
  const said = (draft: Draft) => words(draft).join("");

  test("move together, and past what stands before or behind them", async () => {
    fill(["a", "b", "c", "d", "e"]);
    const draft = await open();
    draft.moveAll(["b", "d"], 1);
    expect(said(draft)).toBe("acbde");
    draft.moveAll(["b", "d"], 1);
    expect(said(draft)).toBe("acebd");
    draft.moveAll(["b", "d"], 1); // there is nothing behind
    draft.moveAll(["a", "c"], -1); // nor before
    expect(said(draft)).toBe("acebd");
    draft.undo();
    draft.undo();
    expect(said(draft)).toBe("abcde");
    await pass();
    expect(draft.status.kind).toBe("saved");
  });

  test("are duplicated with pictures of their own, replaced by one, and deleted, each undone in one", async () => {
    fill(["a", "b", "c", "d", "e"]);
    const draft = await open();
    draft.patch("Add a picture", ["b"], ({ content }) => ({
      ...content,
      figures: [{ id: "f", shot: "s", alt: "", marks: [] }],
    }));
    const made = draft.duplicateAll(["b", "c"]);
    expect(said(draft)).toBe("abcbcde");
    const copy = draft.blocks().find((r) => r.id === made[0]);
    expect(copy?.content.figures[0]?.shot).toBe("s");
    expect(copy?.content.figures[0]?.id).not.toBe("f");
    draft.undo();
    const read = draft.blocks().filter((r) => ["b", "d"].includes(r.id));
    draft.replaceAll("Take out", read, says("x"));
    expect(said(draft)).toBe("axce");
    draft.undo();
    draft.type("d", says("written on").words);
    draft.replaceAll("Take out", read, says("x"));
    expect(words(draft), "what was written meanwhile stays").toEqual(["a", "x", "c", "written on", "e"]);
    draft.undo();
    draft.undo();
    expect(said(draft)).toBe("abcde");
    draft.removeAll(["a", "e"]);
    expect(said(draft)).toBe("bcd");
    draft.undo();
    expect(said(draft)).toBe("abcde");
  });
});

test("two people who move sections at once lose nothing: both see the same, with all that was there", async () => {
  fill(["A", "m", "n", "B", "p", "C", "q"]);
  const one = await open();
  account++;
  const two = await open();
  one.move("A", 6); // behind all
  two.move("C", 0); // before all
  await pass();
  await pass();
  for (const draft of [one, two]) {
    await draft.catchUp();
    for (const id of [...draft.conflicts.keys()]) draft.settle(id, "theirs");
    await pass();
  }
  await one.catchUp();
  await two.catchUp();
  const order = (d: Draft) => d.blocks().map((r) => r.id);
  expect(order(one)).toEqual(order(two));
  expect([...order(one)].sort()).toEqual(["A", "B", "C", "m", "n", "p", "q"]);
  const at = (id: string) => order(one).indexOf(id);
  expect(at("m")).toBe(at("A") + 1); // sections keep their steps
  expect(at("q")).toBe(at("C") + 1);
});
