import { Store } from "../../base/store";
import { type Shot } from "../../base/api/client";
import { newID } from "../../base/api/id";
import type { Size } from "../../base/core/core";
import { outbox, type Sending } from "../outbox/outbox";

const mostBytes = 40 * 1024 * 1024;

/** Uploads are the pictures on their way that a document shows: seen from memory at once, brought up by the outbox. */
export class Uploads extends Store {
  private urls = new Map<string, string>();
  private sizes = new Map<string, Size>();
  private telling: ReturnType<typeof setTimeout> | undefined;
  private readonly stop: (() => void)[];

  constructor(
    private readonly document: string,
    arrived: (shot: Shot) => void,
  ) {
    super();
    this.stop = [
      outbox.subscribe(this.changed),
      outbox.onArrived(({ record, shot }) => {
        arrived(shot);
        this.forget(record.shot);
      }),
    ];
  }

  private changed = () => {
    clearTimeout(this.telling);
    this.telling = undefined;
    this.tell();
  };

  get(shot: string): (Sending & { size?: Size }) | undefined {
    const sending = outbox.get(shot);
    const size = sending && (this.sizes.get(shot) ?? sizeTaken(sending));
    return sending && { ...sending, size };
  }

  /** Takes a recording in; the promise is kept when the server has it. */
  addClip(file: File): Promise<Shot> {
    const shot = newID();
    const arrived = new Promise<Shot>((resolve, reject) => {
      const stop = [
        outbox.onArrived((a) => a.record.shot === shot && done(() => resolve(a.shot))),
        outbox.subscribe(() => {
          const error = outbox.get(shot)?.error;
          if (error) done(() => (reject(new Error(error)), this.drop(shot)));
        }),
      ];
      const done = (then: () => void) => {
        stop.forEach((s) => s());
        then();
      };
    });
    void outbox.add({ shot, document: this.document, name: file.name, blob: file, clip: true });
    return arrived;
  }

  /** Takes pictures in and returns the ids of their shots. */
  add(files: File[]): string[] {
    return files.map((file) => {
      const shot = newID();
      const large = file.size > mostBytes && { error: "The file is larger than 40 MB.", blob: new Blob() };
      void outbox.add({ shot, document: this.document, name: file.name, blob: file, ...large });
      return shot;
    });
  }

  /**
   * Where a picture that is on its way can be seen. It is made ready only when it is asked for: of many, few are seen.
   */
  address(shot: string): string {
    const upload = outbox.get(shot);
    const known = this.urls.get(shot);
    if (known !== undefined || !upload || upload.error) return known ?? "";
    const url = URL.createObjectURL(upload.blob);
    this.urls.set(shot, url);
    void sizeOf(upload.blob, url).then((size) => {
      this.sizes.set(shot, size);
      this.telling ??= setTimeout(this.changed, 20); // many come at once
    });
    return url;
  }

  /** Nobody wants a picture any more. */
  drop(shot: string) {
    this.forget(shot);
    void outbox.drop(shot);
  }

  private forget(shot: string) {
    const url = this.urls.get(shot);
    if (url) setTimeout(() => URL.revokeObjectURL(url), 60_000); // the page may still show it
    this.urls.delete(shot);
  }

  close() {
    this.stop.forEach((stop) => stop());
  }
}

const sizeTaken = ({ taken }: Sending) => (taken && taken.width > 0 ? { w: taken.width, h: taken.height } : undefined);

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
