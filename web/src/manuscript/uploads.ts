import { type Shot } from "../api/client";
import { newID } from "../api/id";
import { storage, type UploadRecord } from "../api/storage";
import type { Size } from "../core/core";

export type Upload = {
  shot: string;
  name: string;
  blob: Blob;
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
  private urls = new Map<string, string>();
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

  /** Goes on with what an earlier page left; refused files are still told of. */
  async resume(known: (shot: string) => boolean) {
    for (const record of await storage.uploads(this.document)) {
      if (known(record.shot)) void storage.dropUpload(record.shot);
      else if (!this.all.has(record.shot)) this.begin(record);
    }
  }

  /** Takes pictures in and returns the ids of their shots. */
  add(files: File[]): string[] {
    return files.map((file) => {
      const record: UploadRecord = { shot: newID(), document: this.document, name: file.name, blob: file };
      if (file.size > mostBytes) {
        this.refuse(record, "The file is larger than 40 MB.");
        return record.shot;
      }
      void storage.saveUpload(record).catch(() => undefined); // a full browser store: the upload still goes on
      this.begin(record);
      return record.shot;
    });
  }

  private begin(record: UploadRecord) {
    this.set({ shot: record.shot, name: record.name, blob: record.blob, progress: 0, error: record.error });
    if (record.error) return;
    this.queue.push(record);
    this.next();
  }

  /** A refused file stays on the page, across reloads, until a person removes it. */
  private refuse(record: UploadRecord, error: string) {
    const refused = { ...record, blob: new Blob(), error };
    void storage.saveUpload(refused).catch(() => undefined); // then it is told of until the next reload
    this.set({ shot: record.shot, name: record.name, blob: refused.blob, progress: 0, error });
  }

  /** Where a picture that is on its way can be seen. It is made ready only when it is asked for: of many, few are seen. */
  address(shot: string): string {
    const upload = this.all.get(shot);
    const known = this.urls.get(shot);
    if (known !== undefined || !upload || upload.error) return known ?? "";
    const url = URL.createObjectURL(upload.blob);
    this.urls.set(shot, url);
    void sizeOf(upload.blob, url).then((size) => {
      const now = this.all.get(shot);
      if (now) this.set({ ...now, size });
    });
    return url;
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
      this.refuse(record, (body as { message?: string } | undefined)?.message ?? "The server refused this file.");
    }
  }

  /** Forgets an upload: it has arrived, or nobody wants it. */
  drop(shot: string) {
    const url = this.urls.get(shot);
    if (url) setTimeout(() => URL.revokeObjectURL(url), 60_000); // the page may still show it
    this.urls.delete(shot);
    this.all.delete(shot);
    this.queue = this.queue.filter((r) => r.shot !== shot);
    void storage.dropUpload(shot);
    this.changed();
  }

  close() {
    this.closed = true;
  }
}

/** A picture's size: of a PNG, as nearly all screenshots are, from its first bytes; else once it is loaded. */
async function sizeOf(blob: Blob, url: string): Promise<Size> {
  const head = new DataView(await blob.slice(0, 24).arrayBuffer());
  if (head.byteLength === 24 && head.getUint32(0) === 0x89504e47 && head.getUint32(12) === 0x49484452) {
    const size = { w: head.getUint32(16), h: head.getUint32(20) };
    if (size.w > 0 && size.h > 0) return size;
  }
  const probe = new Image();
  probe.src = url;
  return new Promise((resolve) => {
    probe.onload = () => resolve({ w: probe.naturalWidth, h: probe.naturalHeight });
  });
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
