import { type About, api, expect, Problem, type Rect, type Session, type Taken } from "../api/client";
import { newID } from "../api/id";
import { listen } from "../api/events";
import { type ShotRecord, storage } from "../api/storage";
import { core, loadCore } from "../core/core";
import { settings } from "./settings";

/** A picture as it comes from a source. */
export type Arriving = {
  blob: Blob;
  thumb: Blob;
  width: number;
  height: number;
  about: About;
  name?: string;
  parts?: Rect[];
};

/** A shot of the session: on its way, or on the server, or both for a moment. */
export type Item = {
  id: string;
  name: string;
  width: number;
  height: number;
  about: About;
  thumb?: Blob; // while it is not on the server
  blob?: Blob;
  error?: string;
  parts?: Rect[]; // the monitors that it seems to span
  taken?: Taken;
};

const sessionKey = "raconte-session";

/**
 * Shots are those of the session under way. A shot is kept in this browser before anything else is done with it,
 * goes up in the order taken, and is let go when the server has confirmed it.
 */
class Shots {
  session: Pick<Session, "id" | "name"> | undefined;
  private all = new Map<string, Item>();
  private order: string[] = [];
  private names = new Set<string>();
  private listeners = new Set<() => void>();
  private stamp = 0;
  private pumping = false;
  private stopped = false;
  private begun = new Set<string>();
  private stop: (() => void) | undefined;
  /** How many shots, of any session, wait in this browser for the server. */
  waiting = 0;
  /** Why they wait, in words for people; "" while they are on their way. */
  trouble = "";

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  snapshot = () => this.stamp;
  private told() {
    this.stamp++;
    this.listeners.forEach((l) => l());
  }

  list(): Item[] {
    return this.order.map((id) => this.all.get(id) as Item);
  }
  get = (id: string) => this.all.get(id);
  get count() {
    return this.order.length;
  }

  /** Goes on with the last session, and with what an earlier page could not bring up. */
  async start() {
    if (this.stop) return;
    await loadCore(); // shots are named and described by its rules
    if (this.stop) return;
    this.stop = listen({ shot: (taken) => this.arrived(taken), opened: () => void this.read() });
    try {
      this.session = JSON.parse(localStorage.getItem(sessionKey) ?? "null") ?? undefined;
    } catch {
      this.session = undefined;
    }
    await this.read();
    for (const record of await storage.shots()) {
      this.waiting++;
      if (record.capture === this.session?.id) this.put(itemOf(record));
    }
    this.told();
    void this.pump();
  }

  private async read() {
    const session = this.session;
    if (!session) return;
    try {
      const got = await expect(api.GET("/api/captures/{capture}", { params: { path: { capture: session.id } } }));
      if (this.session !== session) return;
      const waiting = this.list().filter((i) => !i.taken);
      this.all.clear();
      this.order = [];
      got.shots.forEach((t) => this.put(ofServer(t)));
      waiting.forEach((i) => this.put({ ...i, ...(this.all.get(i.id) && { taken: this.all.get(i.id)?.taken }) }));
      this.told();
    } catch {
      // Not there yet, or out of reach: what is kept here is shown.
    }
  }

  private put(item: Item) {
    if (!this.all.has(item.id)) this.order.push(item.id);
    this.all.set(item.id, item);
    this.names.add(item.name.replace(/\.[a-z]+$/i, ""));
  }

  /** Begins a new session; the one before stays where it is. */
  begin(name?: string) {
    const now = new Date();
    const date = now.toLocaleDateString("en-GB", { day: "numeric", month: "long" });
    const time = now.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
    this.enter({ id: newID(), name: name ?? `Session of ${date}, ${time}` });
  }

  /** Goes on in a session that the server has. */
  async join(session: Pick<Session, "id" | "name">) {
    this.enter(session);
    await this.read();
  }

  private enter(session: Pick<Session, "id" | "name">) {
    this.session = session;
    localStorage.setItem(sessionKey, JSON.stringify({ id: session.id, name: session.name }));
    this.all.clear();
    this.order = [];
    this.names.clear();
    this.told();
  }

  /** Takes a picture into the session. It is kept when the promise is fulfilled. */
  async add(a: Arriving): Promise<Item> {
    if (!this.session) this.begin();
    const session = this.session as Pick<Session, "id" | "name">;
    const name = a.name ?? `${this.nameFor(a.about)}.png`;
    const record: ShotRecord = {
      shot: newID(),
      capture: session.id,
      session: session.name,
      name,
      about: a.about,
      blob: a.blob,
      thumb: a.thumb,
      width: a.width,
      height: a.height,
    };
    const item: Item = { ...itemOf(record), parts: a.parts };
    this.put(item);
    this.waiting++;
    this.told(); // seen at once
    try {
      record.n = await storage.addShot(record);
      void this.pump();
    } catch {
      // The browser keeps nothing (full, or private): it is sent from memory.
      void this.send(record).then(() => this.told());
    }
    return item;
  }

  private nameFor(about: About): string {
    const at = new Date(about.taken);
    const offset = -at.getTimezoneOffset();
    const local = new Date(at.getTime() + offset * 60_000).toISOString();
    const naming = {
      pattern: settings().pattern,
      taken: local,
      window: about.window?.title ?? "",
      session: this.session?.name ?? "",
      n: this.count + 1,
    };
    const plain = core.shotName({ ...naming, used: [] });
    if (!this.names.has(plain)) return plain;
    return core.shotName({ ...naming, used: [...this.names].filter((n) => n.startsWith(plain)) });
  }

  /** Brings up what is kept, in order; of many tabs, one does. */
  private async pump() {
    if (this.pumping || this.stopped) return;
    this.pumping = true;
    await navigator.locks.request("raconte-shots", async () => {
      let wait = 500;
      for (;;) {
        this.waiting = await storage.countShots();
        const next = await storage.nextShot();
        if (!next || this.stopped) break;
        if (await this.send(next)) {
          wait = 500;
          this.waiting--;
        } else {
          this.told();
          await new Promise((resolve) => setTimeout(resolve, wait));
          wait = Math.min(wait * 2, 8000);
        }
      }
    });
    this.pumping = false;
    this.told();
  }

  /** Sends one shot; true when nothing is left to do for it. */
  private async send(record: ShotRecord): Promise<boolean> {
    try {
      if (!this.begun.has(record.capture)) {
        await expect(
          api.PUT("/api/captures/{capture}", {
            params: { path: { capture: record.capture } },
            body: { name: record.session },
          }),
        );
        this.begun.add(record.capture);
      }
      const form = new FormData();
      form.set("about", JSON.stringify(record.about));
      form.set("name", record.name);
      form.set("picture", record.blob, "picture");
      const answer = await fetch(`/api/captures/${record.capture}/shots/${record.shot}`, { method: "PUT", body: form });
      const said = (await answer.json().catch(() => ({}))) as Taken & { message?: string };
      if (!answer.ok) throw new Problem(answer.status, said.message ?? "The server refused this shot.");
      this.trouble = "";
      if (record.n !== undefined) await storage.dropShot(record.n);
      this.arrived(said);
      return true;
    } catch (e) {
      const status = e instanceof Problem ? e.status : 0;
      if (status === 0 || status >= 500 || status === 401 || status === 429) {
        this.trouble = status === 401 ? "You are signed out" : "Raconte can’t be reached";
        return false;
      }
      const error = (e as Problem).message;
      if (record.n !== undefined) await storage.refuseShot(record.n, error);
      const item = this.all.get(record.shot);
      if (item) this.put({ ...item, error });
      this.told();
      return true;
    }
  }

  private arrived(taken: Taken) {
    if (taken.capture !== this.session?.id) {
      this.listeners.forEach((l) => l());
      return;
    }
    const item = this.all.get(taken.id);
    this.put({ ...ofServer(taken), parts: item?.parts });
    this.told();
  }

  refresh = () => this.read();

  async rename(name: string) {
    if (!this.session) return;
    const { id } = this.session;
    await expect(api.PUT("/api/captures/{capture}", { params: { path: { capture: id } }, body: { name } }));
    this.session = { id, name };
    localStorage.setItem(sessionKey, JSON.stringify(this.session));
    this.told();
  }

  /** Puts the session's shots in another order, here at once. */
  async reorder(ids: string[]) {
    this.order = ids;
    this.told();
    if (!this.session) return;
    const path = { capture: this.session.id };
    await expect(api.PUT("/api/captures/{capture}/order", { params: { path }, body: { shots: ids }, keepalive: true }));
  }

  /** Takes shots away, or brings them back. */
  async discard(ids: string[], discarded: boolean) {
    await expect(api.PUT("/api/shots/discarded", { body: { shots: ids, discarded } }));
    if (discarded) ids.forEach((id) => this.forget(id));
    await this.read();
    this.told();
  }

  private forget(id: string) {
    this.all.delete(id);
    this.order = this.order.filter((o) => o !== id);
  }

  /** Forgets a shot that the server refused. */
  async dismiss(id: string) {
    for (const r of await storage.shots()) if (r.shot === id && r.n !== undefined) await storage.dropShot(r.n);
    this.forget(id);
    this.waiting = await storage.countShots();
    this.told();
  }

  /** The picture of a shot, from this browser or from the server. */
  async picture(id: string): Promise<Blob> {
    const here = this.all.get(id)?.blob;
    if (here) return here;
    const answer = await fetch(`/api/shots/${encodeURIComponent(id)}`);
    if (!answer.ok) throw new Problem(answer.status, "The picture can’t be had from the server now.");
    return answer.blob();
  }

  split(id: string) {
    const item = this.all.get(id);
    if (item) this.put({ ...item, parts: undefined });
    this.told();
  }

  close() {
    this.stopped = true;
    this.stop?.();
  }
}

const itemOf = (r: ShotRecord): Item => ({
  id: r.shot,
  name: r.name,
  width: r.width,
  height: r.height,
  about: r.about,
  thumb: r.thumb,
  blob: r.blob,
  error: r.error,
});

const ofServer = (t: Taken): Item => ({
  id: t.id,
  name: t.name,
  width: t.width,
  height: t.height,
  about: t.about,
  taken: t,
});

export const shots = new Shots();
