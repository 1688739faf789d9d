import { useEffect, useRef } from "react";
import { api, type Delivery, type Present, type Taken } from "./client";

export type DocumentEvent = { document: string; seq: number; change?: string };

export type PresenceEvent = { document: string; present: Present[]; taken?: string };

/** What the server tells of, by its names. */
export type Told = {
  document: DocumentEvent;
  delivery: Delivery;
  shot: Taken;
  /** Something else is said of a document. */
  comments: { document: string };
  /** A document is on its way to a receiver, has come there, or something is told of it. */
  sending: { document: string };
  /** A request has come in, or stands otherwise. */
  inbox: { document: string };
  /** Someone has answered, signed, or was asked to. */
  reviews: { document: string };
  /** Someone has come to a document, gone, or is elsewhere in it. */
  presence: PresenceEvent;
  /** What concerns this person is another. */
  notices: undefined;
  /** The stream is open again after a gap: what happened meanwhile must be asked for. */
  opened: undefined;
};
type Kind = keyof Told;
type Listener = { [K in Kind]?: (event: Told[K]) => void };

const kinds: Kind[] = [
  "document",
  "delivery",
  "shot",
  "comments",
  "sending",
  "inbox",
  "reviews",
  "presence",
  "notices",
  "opened",
];

const listeners = new Set<Listener>();

/** Tells the listeners of this tab. */
const tell = (kind: Kind, data: unknown) => listeners.forEach((l) => l[kind]?.(data as never));

/**
 * One tab of a browser has the stream, and tells the others: over HTTP/1.1 a browser has six connections to a server,
 * of which each stream takes one. It ends with its tab, and another's begins.
 */
class Stream {
  private source: EventSource | undefined;
  private readonly channel =
    typeof BroadcastChannel === "undefined" ? undefined : new BroadcastChannel("raconte-events");
  private readonly waits = new AbortController();
  private release: () => void = () => undefined;
  private ended = false;

  constructor() {
    if (this.channel)
      this.channel.onmessage = ({ data }: MessageEvent<{ kind: Kind; data: unknown }>) => tell(data.kind, data.data);
    const locks = globalThis.navigator?.locks;
    if (!locks || !this.channel) {
      this.open();
      return;
    }
    locks
      .request("raconte-events", { signal: this.waits.signal }, () => {
        this.open();
        return new Promise<void>((done) => (this.release = done));
      })
      .catch(() => undefined); // it was not wanted any more
  }

  private say(kind: Kind, data: unknown) {
    tell(kind, data);
    this.channel?.postMessage({ kind, data });
  }

  private open = () => {
    if (this.ended) return;
    this.source = new EventSource("/api/events");
    this.source.addEventListener("open", () => this.say("opened", undefined));
    for (const kind of kinds.filter((k) => k !== "opened"))
      this.source.addEventListener(kind, ({ data }: MessageEvent<string>) =>
        this.say(kind, kind === "notices" ? undefined : JSON.parse(data)),
      );
    this.source.onerror = () => {
      if (this.source?.readyState !== EventSource.CLOSED) return;
      void api.GET("/api/session").catch(() => undefined); // where the session has ended, this finds it out
      setTimeout(this.open, 2000);
    };
  };

  end() {
    this.ended = true;
    this.source?.close();
    this.channel?.close();
    this.waits.abort();
    this.release();
  }
}

let stream: Stream | undefined;

/** Listens to live events until the answer is called. */
export function listen(listener: Listener) {
  listeners.add(listener);
  stream ??= new Stream();
  return () => {
    listeners.delete(listener);
    if (listeners.size > 0) return;
    stream?.end();
    stream = undefined;
  };
}

/** Listens to live events while the component is shown. */
export function useEvents(listener: Listener) {
  const latest = useRef(listener);
  useEffect(() => {
    latest.current = listener;
  });
  useEffect(() => {
    const mine = Object.fromEntries(kinds.map((kind) => [kind, (e: never) => latest.current[kind]?.(e)]));
    return listen(mine);
  }, []);
}
