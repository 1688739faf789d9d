import { useEffect, useRef } from "react";
import { api, type Delivery, type Present, type Taken } from "./client";

export type DocumentEvent = { document: string; seq: number; change?: string };

export type PresenceEvent = { document: string; present: Present[]; taken?: string };

type Listener = {
  document?: (event: DocumentEvent) => void;
  delivery?: (event: Delivery) => void;
  shot?: (event: Taken) => void;
  /** Something else is said of a document. */
  comments?: (event: { document: string }) => void;
  /** A document is on its way to a receiver, has come there, or something is told of it. */
  sending?: (event: { document: string }) => void;
  /** A request has come in, or stands otherwise. */
  inbox?: (event: { document: string }) => void;
  /** Someone has answered, signed, or was asked to. */
  reviews?: (event: { document: string }) => void;
  /** Someone has come to a document, gone, or is elsewhere in it. */
  presence?: (event: PresenceEvent) => void;
  /** What concerns this person is another. */
  notices?: () => void;
  /** The stream is open again after a gap: what happened meanwhile must be asked for. */
  opened?: () => void;
};

const listeners = new Set<Listener>();
let stream: EventSource | undefined;

function connect() {
  if (stream) return;
  stream = new EventSource("/api/events");
  stream.addEventListener("open", () => listeners.forEach((l) => l.opened?.()));
  stream.addEventListener("document", (e) => {
    const event = JSON.parse(e.data) as DocumentEvent;
    listeners.forEach((l) => l.document?.(event));
  });
  stream.addEventListener("delivery", (e) => {
    const event = JSON.parse(e.data) as Delivery;
    listeners.forEach((l) => l.delivery?.(event));
  });
  stream.addEventListener("shot", (e) => {
    const event = JSON.parse(e.data) as Taken;
    listeners.forEach((l) => l.shot?.(event));
  });
  stream.addEventListener("comments", (e) => {
    const event = JSON.parse(e.data) as { document: string };
    listeners.forEach((l) => l.comments?.(event));
  });
  stream.addEventListener("sending", (e) => {
    const event = JSON.parse(e.data) as { document: string };
    listeners.forEach((l) => l.sending?.(event));
  });
  stream.addEventListener("inbox", (e) => {
    const event = JSON.parse(e.data) as { document: string };
    listeners.forEach((l) => l.inbox?.(event));
  });
  stream.addEventListener("reviews", (e) => {
    const event = JSON.parse(e.data) as { document: string };
    listeners.forEach((l) => l.reviews?.(event));
  });
  stream.addEventListener("presence", (e) => {
    const event = JSON.parse(e.data) as PresenceEvent;
    listeners.forEach((l) => l.presence?.(event));
  });
  stream.addEventListener("notices", () => listeners.forEach((l) => l.notices?.()));
  stream.onerror = () => {
    if (stream?.readyState === EventSource.CLOSED) {
      stream = undefined;
      void api.GET("/api/session").catch(() => undefined); // where the session has ended, this finds it out
      if (listeners.size > 0) setTimeout(connect, 2000);
    }
  };
}

/** Listens to live events until the answer is called; all share one stream. */
export function listen(listener: Listener) {
  listeners.add(listener);
  connect();
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) {
      stream?.close();
      stream = undefined;
    }
  };
}

/** Listens to live events while the component is shown. */
export function useEvents(listener: Listener) {
  const latest = useRef(listener);
  useEffect(() => {
    latest.current = listener;
  });
  useEffect(() => {
    const mine: Listener = {
      document: (e) => latest.current.document?.(e),
      delivery: (e) => latest.current.delivery?.(e),
      shot: (e) => latest.current.shot?.(e),
      comments: (e) => latest.current.comments?.(e),
      sending: (e) => latest.current.sending?.(e),
      inbox: (e) => latest.current.inbox?.(e),
      reviews: (e) => latest.current.reviews?.(e),
      presence: (e) => latest.current.presence?.(e),
      notices: () => latest.current.notices?.(),
      opened: () => latest.current.opened?.(),
    };
    return listen(mine);
  }, []);
}
