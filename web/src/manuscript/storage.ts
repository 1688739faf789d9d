import { openDB, type DBSchema } from "idb";
import type { Edit, StepState } from "./model";

// What is not on the server yet, and the history of edits, are kept in the browser, so that a
// reload, a crash or a lost network loses nothing.

export type Pending = { id: string; base: number; state: StepState };
export type DraftRecord = { pending: Pending[]; title?: { base: number; text: string }; position: number };
export type UploadRecord = { shot: string; document: string; name: string; blob: Blob; error?: string };

interface Kept extends DBSchema {
  drafts: { key: string; value: DraftRecord };
  edits: { key: [string, number]; value: Edit };
  uploads: { key: string; value: UploadRecord; indexes: { document: string } };
}

const db = openDB<Kept>("raconte", 1, {
  upgrade(made) {
    made.createObjectStore("drafts");
    made.createObjectStore("edits");
    made.createObjectStore("uploads", { keyPath: "shot" }).createIndex("document", "document");
  },
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
};
