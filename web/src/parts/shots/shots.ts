import { Store } from "../../base/store";
import { dayOfYear, timeOf } from "../../base/format";
import { type About, api, expect, Problem, type Rect, type Session, type Taken } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { listen } from "../../base/api/events";
import { type Outgoing, type Taking } from "../../base/storage/storage";
import { local } from "../../base/storage/local";
import { core, loadCore } from "../../base/core/core";
import { outbox } from "../outbox/outbox";
import { settings } from "./settings";
import { sure } from "../../base/typed";

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
  moves?: boolean; // it is a recording
  taken?: Taken;
};

const sessionKey = "raconte-session";

/**
 * Shots are those of the session under way. A shot is kept in this browser before anything else is done with it; the
 * outbox brings it up, in the order taken, and lets it go when the server has confirmed it.
 */
class Shots extends Store {
  session: Pick<Session, "id" | "name"> | undefined;
  private all = new Map<string, Item>();
  private order: string[] = [];
  private names = new Set<string>();
  private stop: (() => void)[] | undefined;
  private following: string | undefined;
  private late = new Set<string>(); // what arrived since the server was last asked for the session

  list(): Item[] {
    return this.order.map((id) => sure(this.all.get(id)));
  }
  get = (id: string) => this.all.get(id);
  get count() {
    return this.order.length;
  }

  /** How many pictures wait in this browser for the server. */
  get waiting() {
    return outbox.waiting;
  }
  /** Why they wait, in words for people; "" while they are on their way. */
  get trouble() {
    return outbox.trouble;
  }

  /** Goes on with the last session, and with what an earlier page could not bring up. */
  async start() {
    if (this.stop) return;
    await loadCore(); // shots are named and described by its rules
    if (this.stop) return;
    this.stop = [
      listen({ shot: (taken) => this.arrived(taken), opened: () => void this.read() }),
      outbox.onArrived(({ taken }) => taken && this.arrived(taken)),
      outbox.subscribe(() => this.refused()),
    ];
    try {
      this.session = JSON.parse(local.get(sessionKey) ?? "null") ?? undefined;
    } catch {
      this.session = undefined;
    }
    await this.read();
    await outbox.start();
    for (const r of outbox.list()) if (r.taken && r.taken.capture === this.session?.id) this.put(itemOf(r, r.taken));
    this.tell();
  }

  /** What the outbox tells of shots: those that the server has refused say why. */
  private refused() {
    for (const r of outbox.list()) {
      const item = this.all.get(r.shot);
      if (item && r.error !== item.error) this.put({ ...item, error: r.error });
    }
    this.tell();
  }

  private async read() {
    const session = this.session;
    if (!session) return;
    this.late.clear();
    try {
      const got = await expect(api.GET("/api/captures/{capture}", { params: { path: { capture: session.id } } }));
      if (this.session !== session) return;
      const kept = this.list().filter((i) => !i.taken || this.late.has(i.id));
      this.all.clear();
      this.order = [];
      got.shots.forEach((t) => this.put(ofServer(t)));
      kept.forEach((i) => this.put({ ...i, taken: this.all.get(i.id)?.taken ?? i.taken }));
      this.tell();
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
    this.enter({ id: newID(), name: name ?? `Session of ${dayOfYear(now)}, ${timeOf(now)}` });
  }

  /** Goes on in a session that the server has. */
  async join(session: Pick<Session, "id" | "name">) {
    this.enter(session);
    await this.read();
  }

  /** Shows a session that grows elsewhere. */
  async follow(id: string) {
    if (this.session?.id === id || this.following === id) return;
    this.following = id;
    try {
      const got = await expect(api.GET("/api/captures/{capture}", { params: { path: { capture: id } } }));
      await this.join(got.capture);
    } catch {
      // It can't be had now: the next shot of it asks again.
    } finally {
      this.following = undefined;
    }
  }

  private enter(session: Pick<Session, "id" | "name">) {
    this.session = session;
    local.set(sessionKey, JSON.stringify({ id: session.id, name: session.name }));
    this.all.clear();
    this.order = [];
    this.names.clear();
    this.tell();
  }

  /** Takes a picture into the session. It is kept when the promise is fulfilled. */
  async add(a: Arriving): Promise<Item> {
    if (!this.session) this.begin();
    const session = sure(this.session);
    const name = a.name ?? `${this.nameFor(a.about)}.png`;
    const taken: Taking = {
      capture: session.id,
      session: session.name,
      about: a.about,
      thumb: a.thumb,
      width: a.width,
      height: a.height,
    };
    const record: Outgoing = { shot: newID(), name, blob: a.blob, taken };
    const item: Item = { ...itemOf(record, taken), parts: a.parts };
    this.put(item);
    this.tell(); // seen at once
    await outbox.add(record);
    return item;
  }

  /** A name for something that is not a picture, by the pattern and without its ending. */
  nameOf = (about: About) => this.nameFor(about);

  /** Takes a recording into the session, from a file. */
  async addClip(blob: Blob, name: string, taken: Date): Promise<Item> {
    if (!this.session) this.begin();
    const session = sure(this.session);
    const about: About = { taken: taken.toISOString(), source: "file" };
    const taking = { capture: session.id, session: session.name, about, thumb: new Blob(), width: 0, height: 0 };
    const record = { shot: newID(), name, blob, clip: true, taken: taking };
    const item = this.show(record);
    await outbox.add(record);
    return item;
  }

  /** Shows something of the session that is on its way. */
  show(record: Outgoing & { taken: Taking }): Item {
    const item = itemOf(record, record.taken);
    if (record.taken.capture !== this.session?.id) return item;
    this.put(item);
    this.tell();
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

  private arrived(taken: Taken) {
    if (taken.capture !== this.session?.id) {
      this.tell();
      return;
    }
    const item = this.all.get(taken.id);
    this.put({ ...ofServer(taken), parts: item?.parts });
    this.late.add(taken.id);
    this.tell();
  }

  refresh = () => this.read();

  async rename(name: string) {
    if (!this.session) return;
    const { id } = this.session;
    await expect(api.PUT("/api/captures/{capture}", { params: { path: { capture: id } }, body: { name } }));
    this.session = { id, name };
    local.set(sessionKey, JSON.stringify(this.session));
    this.tell();
  }

  /** Puts the session's shots in another order, here at once. */
  async reorder(ids: string[]) {
    this.order = ids;
    this.tell();
    if (!this.session) return;
    const path = { capture: this.session.id };
    await expect(api.PUT("/api/captures/{capture}/order", { params: { path }, body: { shots: ids }, keepalive: true }));
  }

  /** Takes shots away, or brings them back. */
  async discard(ids: string[], discarded: boolean) {
    await expect(api.PUT("/api/shots/discarded", { body: { shots: ids, discarded } }));
    if (discarded) ids.forEach((id) => this.forget(id));
    await this.read();
    this.tell();
  }

  private forget(id: string) {
    this.all.delete(id);
    this.late.delete(id);
    this.order = this.order.filter((o) => o !== id);
  }

  /** Forgets a shot that the server refused. */
  async dismiss(id: string) {
    await outbox.drop(id);
    this.forget(id);
    this.tell();
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
    this.tell();
  }

  close() {
    this.stop?.forEach((stop) => stop());
    outbox.close();
  }
}

const itemOf = (r: Outgoing, { about, thumb, width, height }: Taking): Item => ({
  id: r.shot,
  name: r.name,
  width,
  height,
  about,
  thumb,
  blob: r.clip ? undefined : r.blob,
  error: r.error,
  ...(r.clip && { moves: true }),
});

const ofServer = (t: Taken): Item => ({
  id: t.id,
  name: t.name,
  width: t.width,
  height: t.height,
  about: t.about,
  taken: t,
  ...(t.clip && { moves: true }),
});

export const shots = new Shots();
