import { deleteDB, type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { About, Content, Facts, Figure } from "../api/client";
import { format } from "../api/format";
import { Store } from "../store";
import { isOf } from "./local";
import { sure } from "../typed";

/** A block as it is on the page. Removed blocks stay known, so that removing can be undone. */
export type BlockState = { order: string; removed: boolean; content: Content };

/** One thing a person did, to be undone and done again. */
export type Deed = { label: string; at: number };

/** What a person did to a document, to be undone in one go. */
export type Edit = Deed & {
  blocks: { id: string; before: BlockState; after: BlockState }[];
  facts?: { before: Facts; after: Facts };
};

// What is not on the server yet, and the history of edits, are kept in the browser, so that a
// reload, a crash or a lost network loses nothing. Each account has a database of its own: whoever
// signs in on the same browser finds what is theirs, and nothing else.

/** One change of a shot that is marked without a document. */
export type FigureDeed = Deed & { before: Figure; after: Figure };
/** A shot that is marked without a document, and all that can be undone and done again. */
export type MarkedShot = { format?: number; figure: Figure; deeds: FigureDeed[]; position: number };
/** As it was kept until format 3. */
export type OldMarkedShot = { format?: number; figure: Figure; past: Figure[]; future: Figure[] };

export type Pending = { id: string; base: number; state: BlockState };
export type DraftRecord = {
  format?: number;
  pending: Pending[];
  facts?: { base: number; facts: Facts };
  /** What was sent and has no answer: the server may have it. */
  sent?: { id: string; state: BlockState }[];
  position: number;
  at?: number; // when it was kept
};
/** An edit as it is kept; until format 3 it told of steps and of the title. */
export type KeptEdit = Edit & { format?: number };
export type OldDraft = Omit<DraftRecord, "facts"> & { title?: { base: number; text: string } };
export type OldEdit = Omit<KeptEdit, "blocks" | "facts"> & {
  steps: Edit["blocks"];
  title?: { before: string; after: string };
};

/** A picture that the server has not confirmed, in the order taken. */
export type Outgoing = {
  n?: number;
  shot: string;
  name: string;
  blob: Blob;
  error?: string; // why the server refused it; it waits for a person
  document?: string; // that it was brought into
  taken?: Taking; // of a shot that was captured
  clip?: boolean; // it is a recording
  camera?: Blob; // that of the speaker's camera beside it
};
/** A recording that is under way, or was when the page ended. Its pieces lie beside it, in their order. */
export type Filming = {
  shot: string;
  name: string;
  type: string;
  camera?: string; // the media type of the camera's recording
  taken: Taking;
};
export type Piece = { shot: string; of: "clip" | "camera"; blob: Blob };
export type Taking = { capture: string; session: string; about: About; thumb: Blob; width: number; height: number };

interface Kept extends DBSchema {
  drafts: { key: string; value: DraftRecord | OldDraft };
  edits: { key: [string, number]; value: KeptEdit | OldEdit };
  outgoing: { key: number; value: Outgoing };
  figures: { key: string; value: MarkedShot | OldMarkedShot }; // of shots that are marked without a document, by the shot's id
  filming: { key: string; value: Filming };
  pieces: { key: number; value: Piece; indexes: { shot: string } };
}

let opened: { account: string; db: Promise<IDBPDatabase<Kept>> } | undefined;
/** A database that is to be opened again. */
const refused = new Promise<never>(() => undefined);

/** Whether this browser keeps anything. Where it does not, all works from memory, and the person is told. */
class Keeps extends Store {
  works = true;

  say(works: boolean) {
    if (works === this.works) return;
    this.works = works;
    this.tell();
  }
}

export const keeps = new Keeps();

/** Opens what is kept for an account. Another account in the same page is another page: it is loaded anew. */
export function enter(account: string) {
  if (opened?.account === account) return;
  if (opened) location.reload();
  enterAnew(account);
}

function enterAnew(account: string) {
  isOf(account);
  opened = { account, db: open(account) };
  opened.db.catch(() => keeps.say(false));
}

const nameOf = (account: string) => `raconte ${account}`;

async function open(account: string) {
  const db = await openDB<Kept>(nameOf(account), 4, {
    upgrade(made, from) {
      if (from < 3) {
        made.createObjectStore("drafts");
        made.createObjectStore("edits");
        made.createObjectStore("outgoing", { keyPath: "n", autoIncrement: true });
        made.createObjectStore("figures");
      }
      made.createObjectStore("filming", { keyPath: "shot" });
      made.createObjectStore("pieces", { autoIncrement: true }).createIndex("shot", "shot");
    },
    // A tab of a newer Raconte waits for this one to let go.
    blocking: (_from, _to, event) => (event.target as IDBDatabase).close(),
    // The browser has thrown it away, or broke down: it is made anew when something is to be kept.
    terminated: () => {
      if (opened?.account === account) opened = { account, db: refused };
    },
  });
  await adopt(account, db);
  return db;
}

/** What versions 1 and 2 kept for all accounts together. */
interface Shared extends DBSchema {
  drafts: { key: string; value: OldDraft };
  edits: { key: [string, number]; value: OldEdit };
  uploads: { key: string; value: { shot: string; document: string; name: string; blob: Blob; error?: string } };
  shots: { key: number; value: Outgoing & Taking };
  figures: { key: string; value: OldMarkedShot };
}

/**
 * Takes over what an older Raconte kept in this browser. Drafts say whose they are; pictures do not: they go to the one
 * whose drafts lie with them, and where there are none to whoever opens them first. Copied before anything is removed.
 */
async function adopt(account: string, db: IDBPDatabase<Kept>) {
  const there = (await indexedDB.databases?.())?.some((d) => d.name === "raconte") ?? true;
  if (!there) return;
  const shared = await openDB<Shared>("raconte");
  const stores = [...shared.objectStoreNames];
  const has = (store: (typeof stores)[number]) => stores.includes(store);
  const keys = has("drafts") ? await shared.getAllKeys("drafts") : [];
  const owners = new Set(keys.map((key) => key.slice(0, key.indexOf(" "))));
  for (const key of keys.filter((k) => k.startsWith(`${account} `))) {
    const range = IDBKeyRange.bound([key, 0], [key, Infinity]);
    for (const at of await shared.getAllKeys("edits", range)) {
      await db.put("edits", sure(await shared.get("edits", at)), at);
    }
    await db.put("drafts", sure(await shared.get("drafts", key)), key);
    await shared.delete("drafts", key);
    await shared.delete("edits", range);
  }
  if (owners.size === 0 || owners.has(account)) {
    for (const store of ["uploads", "shots"] as const) {
      if (!has(store)) continue;
      for (const at of await shared.getAllKeys(store)) {
        const kept = await shared.get(store, at);
        if (kept) await db.add("outgoing", "capture" in kept ? captured(kept) : kept);
        await shared.delete(store, at);
      }
    }
    for (const at of has("figures") ? await shared.getAllKeys("figures") : []) {
      await db.put("figures", sure(await shared.get("figures", at)), at);
      await shared.delete("figures", at);
    }
  }
  const left = await Promise.all(stores.map((store) => shared.count(store)));
  shared.close();
  if (left.every((n) => n === 0)) await deleteDB("raconte");
}

const captured = ({ shot, name, blob, error, capture, session, about, thumb, width, height }: Outgoing & Taking) => ({
  shot,
  name,
  blob,
  ...(error && { error }),
  taken: { capture, session, about, thumb, width, height },
});

async function db() {
  if (!opened) throw new Error("Nothing is kept before someone is signed in.");
  if (opened.db === refused) enterAnew(opened.account);
  try {
    const kept = await opened.db;
    keeps.say(true);
    return kept;
  } catch (e) {
    keeps.say(false);
    throw e;
  }
}

const all = (key: string) => IDBKeyRange.bound([key, 0], [key, Infinity]);

export const storage = {
  async load(key: string): Promise<{ draft?: DraftRecord | OldDraft; edits: (KeptEdit | OldEdit)[] }> {
    const kept = await db();
    return { draft: await kept.get("drafts", key), edits: await kept.getAll("edits", all(key)) };
  },
  async draft(key: string) {
    return (await db()).get("drafts", key);
  },
  async saveDraft(key: string, draft: DraftRecord) {
    await (await db()).put("drafts", { ...draft, format }, key);
  },
  /** The records of a document, of all pages; of all documents with "". Until version 5 a document had one. */
  async draftKeys(about: string): Promise<string[]> {
    const keys = await (await db()).getAllKeys("drafts");
    return keys.filter((key) => about === "" || key === about || key.startsWith(`${about} `));
  },
  async saveHistory(key: string, edits: Edit[]) {
    const tx = (await db()).transaction("edits", "readwrite");
    void tx.store.delete(all(key));
    edits.forEach((edit, index) => void tx.store.put({ ...edit, format }, [key, index]));
    await tx.done;
  },
  async dropDraft(key: string) {
    const tx = (await db()).transaction(["drafts", "edits"], "readwrite");
    void tx.objectStore("drafts").delete(key);
    void tx.objectStore("edits").delete(all(key));
    await tx.done;
  },
  /** The documents of which something is not on the server yet. */
  async unsaved(): Promise<string[]> {
    const kept = await db();
    const keys = await kept.getAllKeys("drafts");
    const drafts = await Promise.all(keys.map((key) => kept.get("drafts", key)));
    const ids = keys.flatMap((key, i) => {
      const draft = drafts[i];
      const open =
        draft && (draft.pending.length > 0 || ("facts" in draft ? draft.facts : "title" in draft && draft.title));
      return open ? (key.split(" ")[1] ?? []) : [];
    });
    return [...new Set(ids)];
  },
  /** Puts an edit in its place in the history and forgets those after it. */
  async saveEdit(key: string, index: number, edit: Edit) {
    const tx = (await db()).transaction("edits", "readwrite");
    await Promise.all([
      tx.store.delete(IDBKeyRange.bound([key, index], [key, Infinity])),
      tx.store.put({ ...edit, format }, [key, index]),
      tx.done,
    ]);
  },
  /** Keeps a picture and gives its place in the order. */
  async addOutgoing(record: Outgoing) {
    return (await db()).add("outgoing", record);
  },
  async outgoing() {
    return (await db()).getAll("outgoing");
  },
  async putOutgoing(record: Outgoing) {
    await (await db()).put("outgoing", record);
  },
  async dropOutgoing(n: number) {
    await (await db()).delete("outgoing", n);
  },
  async beginFilming(film: Filming) {
    await (await db()).put("filming", film);
  },
  async addPiece(piece: Piece) {
    await (await db()).add("pieces", piece);
  },
  async filming() {
    return (await db()).getAll("filming");
  },
  /** The pieces of a recording, in their order. */
  async pieces(shot: string) {
    return (await db()).getAllFromIndex("pieces", "shot", shot);
  },
  async dropFilming(shot: string) {
    const tx = (await db()).transaction(["filming", "pieces"], "readwrite");
    void tx.objectStore("filming").delete(shot);
    for (const key of await tx.objectStore("pieces").index("shot").getAllKeys(shot))
      void tx.objectStore("pieces").delete(key);
    await tx.done;
  },
  async figure(shot: string) {
    return (await db()).get("figures", shot);
  },
  async saveFigure(shot: string, marked: MarkedShot) {
    const tx = (await db()).transaction("figures", "readwrite");
    void tx.store.put({ ...marked, format }, shot);
    tx.commit(); // at once: the page may be left the next moment
    await tx.done;
  },
};
