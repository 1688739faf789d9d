import { Store } from "../../base/store";
import { api, expect, Problem, type Shot, type Taken, toldBy } from "../../base/api/client";
import { type Outgoing, storage, type Taking } from "../../base/storage/storage";
import { whose } from "../../base/storage/local";
import { reasonOf } from "../../base/reason";

/** A picture on its way, or refused. */
export type Sending = Outgoing & { progress: number; unkept?: boolean };

/** A picture that has arrived: what the server answered. */
export type Arrived = { record: Outgoing; shot: Shot; taken?: Taken };

type Told = { added: number } | { arrived: number; shot: Shot; taken?: Taken } | { changed: number };

const broughtAtOnce = 3;

/**
 * The outbox brings every picture to the server that this browser keeps for the account: shots that were captured, in
 * the order taken, and pictures that were brought into documents, a few at a time. It goes on across screens, reloads
 * and sign-ins; of many tabs one sends, and the others hear of it. One that the server refuses for good is kept and
 * told of, and does not stop those behind it.
 */
class Outbox extends Store {
  /** Why pictures wait, in words for people; "" while they are on their way. */
  trouble = "";
  /** Documents that are not open any more and of which something still has to be saved, by id. */
  readonly documents = new Map<string, string>();

  private all = new Map<string, Sending>();
  private sending = new Set<string>();
  private done = new Set<string>(); // what has arrived, or nobody wants
  private arrivals = new Set<(a: Arrived) => void>();
  private telling: ReturnType<typeof setTimeout> | undefined;
  private begun = new Set<string>();
  private wake: (() => void)[] = [];
  private channel: BroadcastChannel | undefined;
  private started: Promise<void> | undefined;
  private stopped = false;

  /** Tells of few pictures at once; of many together, since they would else draw the page hundreds of times. */
  private told() {
    const tell = () => {
      this.telling = undefined;
      this.tell();
    };
    if (this.all.size <= 3) tell();
    else this.telling ??= setTimeout(tell, 50);
  }

  /** Hears of every picture that arrives, from whichever tab. */
  onArrived(hear: (a: Arrived) => void) {
    this.arrivals.add(hear);
    return () => void this.arrivals.delete(hear);
  }

  get = (shot: string) => this.all.get(shot);
  list = () => [...this.all.values()];

  /** How many pictures wait for the server; refused ones wait for a person. */
  get waiting() {
    return this.list().filter((s) => !s.error).length;
  }

  /** Goes on with what earlier pages left. */
  start(): Promise<void> {
    return (this.started ??= (async () => {
      this.channel = typeof BroadcastChannel === "undefined" ? undefined : new BroadcastChannel(`outbox ${whose()}`);
      if (this.channel) this.channel.onmessage = (e: MessageEvent<Told>) => void this.heard(e.data);
      await this.read();
      globalThis.addEventListener?.("beforeunload", this.ask);
      globalThis.addEventListener?.("online", this.wakeUp);
      void this.pump();
    })());
  }

  /**
   * Whoever leaves the page with something unsent is asked. It is kept and goes up later, but they may want to wait.
   */
  private ask = (e: Event) => {
    if (this.waiting > 0) e.preventDefault();
  };

  private async read() {
    const kept = await storage.outgoing().catch(() => []);
    const there = new Set(kept.map((r) => r.shot));
    for (const r of kept)
      if (!this.all.has(r.shot) && !this.done.has(r.shot)) this.all.set(r.shot, { ...r, progress: 0 });
    for (const s of this.list()) if (s.n !== undefined && !there.has(s.shot)) this.all.delete(s.shot);
    this.told();
  }

  /** Another tab has done something. */
  private async heard(told: Told) {
    if ("arrived" in told) {
      const record = this.list().find((s) => s.n === told.arrived);
      if (record) this.all.delete(record.shot);
      if (record) this.arrivals.forEach((hear) => hear({ record, shot: told.shot, taken: told.taken }));
      this.told();
      return;
    }
    if ("changed" in told) this.list().forEach((s) => s.n === told.changed && this.all.delete(s.shot));
    await this.read();
    this.wakeUp();
  }

  /**
   * Takes a picture in, which is seen at once. The answer is whether this browser keeps it; where it does not (it is
   * full, or private), this page sends it from memory, and whoever sees the page is told.
   */
  async add(record: Outgoing): Promise<boolean> {
    this.all.set(record.shot, { ...record, progress: 0 });
    this.told();
    try {
      const n = await storage.addOutgoing(record);
      const now = this.all.get(record.shot);
      if (now) now.n = n;
      this.channel?.postMessage({ added: n } satisfies Told);
      this.wakeUp();
      return true;
    } catch {
      this.change(record, { unkept: true });
      if (!record.error) void this.insist(record);
      return false;
    }
  }

  /** What is in the memory of this page alone. */
  get unkept() {
    return this.list().filter((s) => s.unkept && !s.error);
  }

  private async insist(record: Outgoing) {
    const wanted = () => !this.stopped && this.all.has(record.shot);
    for (let wait = 500; wanted() && !(await this.send(record)); wait = Math.min(wait * 2, 8000)) await pause(wait);
  }

  /** Forgets a picture that nobody wants. */
  async drop(shot: string) {
    const record = this.all.get(shot);
    this.all.delete(shot);
    this.told();
    this.done.add(shot);
    if (record?.n === undefined) return;
    await storage.dropOutgoing(record.n).catch(() => undefined);
    this.channel?.postMessage({ changed: record.n } satisfies Told);
  }

  /** Of many tabs, the one that holds the lock sends. */
  private async pump() {
    await navigator.locks.request(`outbox ${whose()}`, async () => {
      await this.read();
      const lanes = [this.lane((s) => s.taken !== undefined)];
      for (let i = 0; i < broughtAtOnce; i++) lanes.push(this.lane((s) => s.taken === undefined));
      await Promise.all(lanes);
    });
  }

  private async lane(mine: (s: Sending) => boolean) {
    for (let wait = 500; !this.stopped;) {
      const next = this.list().find((s) => s.n !== undefined && !s.error && mine(s) && !this.sending.has(s.shot));
      if (!next) {
        await new Promise<void>((resolve) => this.wake.push(resolve));
        continue;
      }
      this.sending.add(next.shot);
      const done = await this.send(next);
      this.sending.delete(next.shot);
      if (!done) await Promise.race([pause(wait), new Promise<void>((resolve) => this.wake.push(resolve))]);
      wait = done ? 500 : Math.min(wait * 2, 8000);
    }
  }

  private wakeUp = () => {
    const sleeping = this.wake;
    this.wake = [];
    sleeping.forEach((resolve) => resolve());
  };

  /** Sends one picture; true when nothing is left to do for it. */
  private async send(record: Outgoing): Promise<boolean> {
    try {
      const { taken: taking } = record;
      const taken = taking && (await (record.clip ? this.clip(record) : this.capture(record, taking)));
      const brought = () =>
        record.clip ? this.clip(record) : bring(record, (progress) => this.change(record, { progress }));
      const answer: Shot = taken ?? (await brought());
      this.trouble = "";
      const { id, name, width, height, clip } = answer;
      const arrived: Arrived = { record, shot: { id, name, width, height, clip }, ...(taken && { taken }) };
      if (record.n !== undefined) {
        this.done.add(record.shot);
        await storage.dropOutgoing(record.n).catch(() => undefined); // tried again by the next page, which hears that it is there
        this.channel?.postMessage({ arrived: record.n, shot: arrived.shot, taken } satisfies Told);
      }
      this.all.delete(record.shot);
      this.arrivals.forEach((hear) => hear(arrived));
      this.told();
      return true;
    } catch (e) {
      const status = e instanceof Problem ? e.status : 0;
      if (status === 0 || status >= 500 || status === 401 || status === 429 || status === 499) {
        this.trouble = status === 401 ? "You are signed out" : "Raconte can’t be reached";
        this.told();
        return false;
      }
      const error = reasonOf(e);
      this.change(record, { error });
      if (record.n !== undefined) {
        // A brought file that is of no use is not kept; what was captured can't be had again.
        await storage
          .putOutgoing({ ...record, error, ...(!record.taken && { blob: new Blob() }) })
          .catch(() => undefined);
        this.channel?.postMessage({ changed: record.n } satisfies Told);
      }
      return true;
    }
  }

  private change(record: Outgoing, some: Partial<Sending>) {
    const now = this.all.get(record.shot);
    if (now) this.all.set(record.shot, { ...now, ...some });
    this.told();
  }

  private async session({ capture, session }: Taking) {
    if (this.begun.has(capture)) return;
    await expect(api.PUT("/api/captures/{capture}", { params: { path: { capture } }, body: { name: session } }));
    this.begun.add(capture);
  }

  /** Brings a recording up. The browser keeps it until then, however long that takes. */
  private async clip(record: Outgoing): Promise<Taken> {
    const { taken, camera } = record;
    if (taken) await this.session(taken);
    const form = new FormData();
    form.set("about", JSON.stringify(taken?.about ?? { taken: new Date().toISOString(), source: "file" }));
    form.set("name", record.name);
    form.set("clip", record.blob, "clip");
    if (camera) form.set("camera", camera, "camera");
    const to = taken ? `?capture=${encodeURIComponent(taken.capture)}` : "";
    const answer = await fetch(`/api/shots/${record.shot}/clip${to}`, { method: "PUT", body: form });
    return toldBy<Taken>(answer, "The server refused this recording.");
  }

  private async capture(record: Outgoing, taking: Taking): Promise<Taken> {
    const { capture, about } = taking;
    await this.session(taking);
    const form = new FormData();
    form.set("about", JSON.stringify(about));
    form.set("name", record.name);
    form.set("picture", record.blob, "picture");
    const answer = await fetch(`/api/captures/${capture}/shots/${record.shot}`, { method: "PUT", body: form });
    return toldBy<Taken>(answer, "The server refused this shot.");
  }

  /** A document that was left has, or has not any more, something to save. */
  unsaved(document: string, title: string | undefined) {
    if (title === undefined) this.documents.delete(document);
    else this.documents.set(document, title);
    this.told();
  }

  close() {
    this.stopped = true;
    this.channel?.close();
    this.wakeUp();
  }
}

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** Sends a file. XMLHttpRequest, because fetch tells no progress of what it sends. */
function bring(record: Outgoing, progress: (share: number) => void): Promise<Shot> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open(
      "PUT",
      `/api/shots/${record.shot}?name=${encodeURIComponent(record.name.slice(0, 200).replace(/\p{Surrogate}/gu, ""))}`,
    );
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (e) => progress(e.total ? e.loaded / e.total : 0);
    request.onload = () => {
      const answer = new Response(request.responseText || null, { status: request.status });
      toldBy<Shot>(answer, "The server refused this file.").then(resolve, reject);
    };
    request.onerror = () => reject(new Problem(0, "Raconte can’t be reached"));
    request.send(record.blob);
  });
}

export const outbox = new Outbox();
