import { openDB, type DBSchema } from "idb";
import type { About, Figure } from "./client";
import type { Edit, StepState } from "../manuscript/model";

// What is not on the server yet, and the history of edits, are kept in the browser, so that a
// reload, a crash or a lost network loses nothing.

/** A shot that is marked without a document, and all that can be undone and done again. */
export type MarkedShot = { figure: Figure; past: Figure[]; future: Figure[] };

export type Pending = { id: string; base: number; state: StepState };
export type DraftRecord = { pending: Pending[]; title?: { base: number; text: string }; position: number };
export type UploadRecord = { shot: string; document: string; name: string; blob: Blob; error?: string };

/** A shot that the server has not confirmed, in the order taken. */
export type ShotRecord = {
  n?: number;
  shot: string;
  capture: string;
  session: string; // its name
  name: string;
  about: About;
  blob: Blob;
  thumb: Blob;
  width: number;
  height: number;
  error?: string;
};

interface Kept extends DBSchema {
  drafts: { key: string; value: DraftRecord };
  edits: { key: [string, number]; value: Edit };
  uploads: { key: string; value: UploadRecord; indexes: { document: string } };
  shots: { key: number; value: ShotRecord };
  figures: { key: string; value: MarkedShot }; // of shots that are marked without a document, by the shot's id
}

const db = openDB<Kept>("raconte", 2, {
  upgrade(made, from) {
    if (from < 1) {
      made.createObjectStore("drafts");
      made.createObjectStore("edits");
      made.createObjectStore("uploads", { keyPath: "shot" }).createIndex("document", "document");
    }
    made.createObjectStore("shots", { keyPath: "n", autoIncrement: true });
    made.createObjectStore("figures");
  },
  // A tab of a newer Raconte waits for this one to let go.
  blocking: (_from, _to, event) => (event.target as IDBDatabase).close(),
});

const all = (key: string) => IDBKeyRange.bound([key, 0], [key, Infinity]);

export const storage = {
  async load(key: string): Promise<{ draft?: DraftRecord; edits: Edit[] }> {
    const kept = await db;
    return { draft: await kept.get("drafts", key), edits: await kept.getAll("edits", all(key)) };
  },
  async saveDraft(key: string, draft: DraftRecord) {
    await (await db).put("drafts", draft, key);
  },
  /** Puts an edit in its place in the history and forgets those after it. */
  async saveEdit(key: string, index: number, edit: Edit) {
    const tx = (await db).transaction("edits", "readwrite");
    await Promise.all([
      tx.store.delete(IDBKeyRange.bound([key, index], [key, Infinity])),
      tx.store.put(edit, [key, index]),
      tx.done,
    ]);
  },
  async uploads(document: string) {
    return (await db).getAllFromIndex("uploads", "document", document);
  },
  async saveUpload(upload: UploadRecord) {
    await (await db).put("uploads", upload);
  },
  async dropUpload(shot: string) {
    await (await db).delete("uploads", shot);
  },
  /** Keeps a shot and gives its place in the order. */
  async addShot(record: ShotRecord) {
    return (await db).add("shots", record);
  },
  async shots() {
    return (await db).getAll("shots");
  },
  /** The first shot that may go up; refused ones wait for a person. */
  async nextShot(): Promise<ShotRecord | undefined> {
    let at = await (await db).transaction("shots").store.openCursor();
    while (at?.value.error) at = await at.continue();
    return at?.value;
  },
  async countShots() {
    return (await db).count("shots");
  },
  async refuseShot(n: number, error: string) {
    const record = await (await db).get("shots", n);
    if (record) await (await db).put("shots", { ...record, error });
  },
  async dropShot(n: number) {
    await (await db).delete("shots", n);
  },
  async figure(shot: string) {
    return (await db).get("figures", shot);
  },
  async saveFigure(shot: string, marked: MarkedShot) {
    const tx = (await db).transaction("figures", "readwrite");
    void tx.store.put(marked, shot);
    tx.commit(); // at once: the page may be left the next moment
    await tx.done;
  },
};
