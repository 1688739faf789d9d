import type { Shot } from "../api/client";
import { newID } from "./model";
import { storage, type UploadRecord } from "./storage";

export type Upload = {
  shot: string;
  name: string;
  url: string;
  size?: { w: number; h: number };
  progress: number; // 0 to 1
  error?: string;
};

const atOnce = 3;
const few = 3;
const together = 50; // milliseconds
const mostBytes = 40 * 1024 * 1024;

/**
 * Uploads brings pictures to the server. A picture is shown from memory at once, kept in the browser until the
 * server has confirmed it, and sent again when the network fails.
 */
export class Uploads {
  private all = new Map<string, Upload>();
  private queue: UploadRecord[] = [];
  private running = 0;
  private listeners = new Set<() => void>();
  private stamp = 0;
  private telling: ReturnType<typeof setTimeout> | undefined;
  private closed = false;

  constructor(
    private readonly document: string,
    private readonly arrived: (shot: Shot) => void,
  ) {}

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  snapshot = () => this.stamp;

  private set(upload: Upload) {
    this.all.set(upload.shot, upload);
    this.changed();
  }

  /** Tells of a few pictures at once; of many together, since they would else draw the page hundreds of times. */
  private changed() {
    const tell = () => {
      this.telling = undefined;
      this.stamp++;
      this.listeners.forEach((l) => l());
    };
    if (this.all.size <= few) tell();
    else this.telling ??= setTimeout(tell, together);
  }

  get = (shot: string) => this.all.get(shot);
  waiting = () => [...this.all.values()].filter((u) => !u.error).length;

  /** Goes on with what an earlier page left. */
  async resume(known: (shot: string) => boolean) {
    for (const record of await storage.uploads(this.document)) {
      if (known(record.shot)) void storage.dropUpload(record.shot);
      else if (!this.all.has(record.shot)) this.begin(record);
    }
  }

  /** Takes pictures in and returns the ids of their shots. */
  add(files: File[]): string[] {
    return files.map((file) => {
      const record = { shot: newID(), document: this.document, name: file.name, blob: file };
      if (file.size > mostBytes) {
        this.set({ ...this.entry(record), error: "The file is larger than 40 MB." });
        return record.shot;
      }
      void storage.saveUpload(record).catch(() => undefined); // without room the upload still goes on
      this.begin(record);
      return record.shot;
    });
  }

  private entry(record: UploadRecord): Upload {
    return { shot: record.shot, name: record.name, url: URL.createObjectURL(record.blob), progress: 0 };
  }

  private begin(record: UploadRecord) {
    const upload = this.entry(record);
    this.set(upload);
    const probe = new Image();
    probe.onload = () => {
      const now = this.all.get(record.shot);
      if (now) this.set({ ...now, size: { w: probe.naturalWidth, h: probe.naturalHeight } });
    };
    probe.src = upload.url;
    this.queue.push(record);
    this.next();
  }

  private next() {
    while (this.running < atOnce && !this.closed) {
      const record = this.queue.shift();
      if (!record) return;
      this.running++;
      void this.send(record).finally(() => {
        this.running--;
        this.next();
      });
    }
  }

  private async send(record: UploadRecord, wait = 1000): Promise<void> {
    const { status, body } = await put(record, (progress) => {
      const now = this.all.get(record.shot);
      if (now) this.set({ ...now, progress });
    });
    const upload = this.all.get(record.shot);
    if (this.closed || !upload) return;
    if (status === 200) {
      this.arrived(body as Shot);
      this.drop(record.shot);
    } else if (status === 0 || status >= 500 || status === 401) {
      await new Promise((resolve) => setTimeout(resolve, wait));
      if (!this.closed && this.all.has(record.shot)) await this.send(record, Math.min(wait * 2, 15000));
    } else {
      const message = (body as { message?: string } | undefined)?.message;
      this.set({ ...upload, error: message ?? "The server refused this file." });
      void storage.dropUpload(record.shot);
    }
  }

  /** Forgets an upload: it has arrived, or nobody wants it. */
  drop(shot: string) {
    const upload = this.all.get(shot);
    if (upload) setTimeout(() => URL.revokeObjectURL(upload.url), 60_000); // the page may still show it
    this.all.delete(shot);
    this.queue = this.queue.filter((r) => r.shot !== shot);
    void storage.dropUpload(shot);
    this.changed();
  }

  close() {
    this.closed = true;
  }
}

/** Sends one file. XMLHttpRequest, because fetch tells no progress of what it sends. */
function put(record: UploadRecord, progress: (share: number) => void): Promise<{ status: number; body: unknown }> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    request.open("PUT", `/api/shots/${record.shot}?name=${encodeURIComponent(record.name.slice(0, 200))}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (e) => progress(e.total ? e.loaded / e.total : 0);
    request.onload = () => resolve({ status: request.status, body: request.response });
    request.onerror = () => resolve({ status: 0, body: undefined });
    request.send(record.blob);
  });
}
