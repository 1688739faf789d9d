import { type DraftRecord, storage } from "../../base/storage/storage";
import { draftOf, editOf } from "../../base/storage/upgrade";
import { newID } from "../../base/api/id";
import type { Edit } from "../../base/storage/storage";

/**
 * What pages that have ended left of a document: what they had not saved, the newest first, and the last one's history.
 */
export type Left = { edits: Edit[]; position: number; records: Omit<DraftRecord, "position">[] };

const none: Left = { edits: [], position: 0, records: [] };
const mostEdits = 500; // of a history that is read again
const longest = 30 * 24 * 3600_000; // milliseconds that the history of a document that nobody opens is kept
const reloads = 2000; // milliseconds in which the page before has ended

/**
 * Keeping is what one page keeps of a document that it edits, in this browser. Each page has a record of its own, held
 * by a lock for as long as it lives, so that none writes over another's; those of pages that have ended go to the next.
 */
export class Keeping {
  /** Whether all was kept that was to be; where it was not, it lasts as long as the page. */
  works = true;
  private constructor(
    private readonly key: string,
    private readonly release: () => void,
  ) {}

  static async begin(account: string, document: string): Promise<{ keeping: Keeping; left: Left }> {
    const about = `${account} ${document}`;
    const fresh = `${about} ${newID()}`;
    const found = [];
    try {
      for (const key of await storage.draftKeys(about)) {
        const release = await own(key, key === remembered(about));
        if (release) found.push({ key, release, ...(await storage.load(key)) });
      }
      found.sort((a, b) => at(b.draft) - at(a.draft));
      const [last, ...older] = found;
      const keeping = new Keeping(last?.key ?? fresh, last?.release ?? (await own(fresh)) ?? (() => undefined));
      remember(about, keeping.key);
      const records = found.flatMap((f) => (f.draft ? [draftOf(f.draft)] : []));
      const edits = (last?.edits ?? []).map(editOf);
      const cut = Math.max(0, edits.length - mostEdits);
      const left = { edits: edits.slice(cut), position: Math.max(0, (records[0]?.position ?? 0) - cut), records };
      if (cut > 0) await storage.saveHistory(keeping.key, left.edits);
      if (older.length > 0) {
        // What they had not saved is in one record before theirs go.
        await keeping.save({
          pending: records.flatMap((r) => r.pending), // of one block all that they had
          facts: records.find((r) => r.facts)?.facts,
          sent: records.flatMap((r) => r.sent ?? []),
          position: left.position,
        });
        for (const { key, release } of older) {
          if (keeping.works) await storage.dropDraft(key);
          release();
        }
      }
      return { keeping, left };
    } catch {
      found.forEach(({ release }) => release()); // for a page that can read them
      const keeping = new Keeping(fresh, () => undefined);
      keeping.works = false;
      return { keeping, left: none };
    }
  }

  async save(record: DraftRecord) {
    await this.attempt(storage.saveDraft(this.key, { ...record, at: Date.now() }));
  }

  async saveEdit(index: number, edit: Edit) {
    await this.attempt(storage.saveEdit(this.key, index, edit));
  }

  private async attempt(work: Promise<unknown>) {
    this.works = await work.then(
      () => true,
      () => false,
    );
  }

  /** Whoever opens the document next goes on with what is kept. */
  end() {
    this.release();
  }
}

const at = (record: object | undefined) => (record && "at" in record ? (record.at as number) : 0);

/** Takes a record of a page that has ended; undefined where that lives. The page before a reload is waited for. */
function own(key: string, mine = false): Promise<(() => void) | undefined> {
  const locks = globalThis.navigator?.locks;
  if (!locks) return Promise.resolve(() => undefined);
  return new Promise((resolve) => {
    const options = mine ? { signal: AbortSignal.timeout(reloads) } : { ifAvailable: true };
    locks
      .request(`draft ${key}`, options, (lock) => {
        if (!lock) return resolve(undefined);
        return new Promise<void>((release) => resolve(release));
      })
      .catch(() => resolve(undefined));
  });
}

// A page that is loaded again goes on with its own record, as soon as the one before it has let go.
const remembered = (about: string) => {
  const [how] = globalThis.performance?.getEntriesByType?.("navigation") ?? [];
  const again = how && "type" in how && how.type === "reload";
  return again ? globalThis.sessionStorage?.getItem(`raconte-draft ${about}`) : undefined;
};
const remember = (about: string, key: string) => globalThis.sessionStorage?.setItem(`raconte-draft ${about}`, key);

/** Forgets the histories of documents that were not opened for long, and of which nothing is unsaved. */
export async function prune() {
  for (const key of await storage.draftKeys("")) {
    const draft = await storage.draft(key);
    if (!draft || draft.pending.length > 0 || ("facts" in draft && draft.facts) || "title" in draft) continue;
    if (at(draft) === 0) await storage.saveDraft(key, { ...draftOf(draft), at: Date.now() });
    else if (at(draft) < Date.now() - longest) {
      const release = await own(key);
      if (release) await storage.dropDraft(key);
      release?.();
    }
  }
}
