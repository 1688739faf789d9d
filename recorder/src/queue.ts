import { type DBSchema, openDB } from "idb";
import { kept } from "./state";
import type { House } from "./types";

// Shots wait here, in order, until the server has confirmed them: across a lost network, a server that is down, and a
// browser that was killed. Each Raconte has a line of its own: none waits for another. What is refused stays, with the
// reason, until a person has saved or dropped it.

export type Action = { kind: string; element?: object; text?: string };
export type Shot = {
  n?: number;
  id: string;
  house: string;
  run: string;
  session: string;
  name: string;
  about: { action?: Action };
  picture: Blob;
  refused?: string; // why, in words for people
};

/** A shot that does not go out by itself, and why. */
export type Held = { n: number; name: string; session: string; why: string };

interface Kept extends DBSchema {
  shots: { key: number; value: Shot; indexes: { house: string } };
}

const open = openDB<Kept>("recorder", 2, {
  upgrade: (db, from, _to, changing) => {
    if (from < 1) db.createObjectStore("shots", { keyPath: "n", autoIncrement: true });
    changing.objectStore("shots").createIndex("house", "house");
  },
});

const settles = 1500; // milliseconds in which the last act may turn out to be another
const later = 3000; // milliseconds until what could not be sent is tried again
const mostHeld = 50; // that are told of at once

let newest: { n: number; until: number } | undefined;
let sending = false;
let more = false; // something came while what waits was sent
let timer: ReturnType<typeof setTimeout> | undefined;

/** Why the shots of each house wait, in words for people; those that only a person can help are stuck. */
const troubles = new Map<string, { said: string; stuck: boolean }>();

/** Why shots wait. */
export const trouble = () => [...new Set([...troubles.values()].map((t) => t.said))].join(" ");

let changed: () => void = () => undefined;
export const onChange = (hear: () => void) => void (changed = hear);

export const waiting = async () => (await open).count("shots");

/** Keeps a shot until it is sent. */
export async function add(shot: Shot) {
  const db = await open;
  const n = await db.add("shots", shot);
  newest = { n, until: Date.now() + settles };
  void send();
}

/** The last act turned out to be another: a double click, a drag. */
export async function amend(some: { kind: string; text?: string }) {
  const db = await open;
  const shot = newest && (await db.get("shots", newest.n));
  if (!shot?.about.action) return;
  shot.about.action = { ...shot.about.action, ...some };
  await db.put("shots", shot);
}

/** Nothing more can be said of the last act. */
export function settle() {
  newest = undefined;
  void send();
}

/** Shots that wait for a person: refused, or of a house that does not know this recorder. */
export async function held(): Promise<Held[]> {
  const all: Held[] = [];
  let cursor = await (await open).transaction("shots").store.openCursor();
  for (; cursor && all.length < mostHeld; cursor = await cursor.continue()) {
    const { n = 0, name, session, refused, house } = cursor.value;
    const stuck = troubles.get(house);
    const why = refused ?? (stuck?.stuck ? stuck.said : undefined);
    if (why) all.push({ n, name, session, why });
  }
  return all;
}

export const picture = async (n: number) => (await (await open).get("shots", n))?.picture;

export async function drop(n: number) {
  await (await open).delete("shots", n);
  changed();
}

function again(ms: number) {
  clearTimeout(timer);
  timer = setTimeout(() => void send(), ms);
}

/** Sends what waits, each house by itself, one after the other. */
export async function send() {
  more = sending;
  if (sending) return;
  sending = true;
  let wait = 0;
  try {
    do {
      more = false;
      const { houses } = await kept();
      const lines = await addresses();
      for (const known of [...troubles.keys()]) if (!lines.includes(known)) troubles.delete(known);
      const waits = await Promise.all(
        lines.map((address) =>
          sendTo(
            address,
            houses.find((h) => h.address === address),
          ),
        ),
      );
      wait = Math.min(...waits.filter((w) => w > 0));
    } while (more);
  } finally {
    sending = false;
    changed();
  }
  if (Number.isFinite(wait) && wait > 0) again(wait);
}

/** The houses that shots wait for. */
async function addresses(): Promise<string[]> {
  const all: string[] = [];
  const index = (await open).transaction("shots").store.index("house");
  let cursor = await index.openKeyCursor(null, "nextunique");
  for (; cursor; cursor = await cursor.continue()) all.push(cursor.key);
  return all;
}

/** The next shot of a house that is not refused. */
async function nextOf(address: string): Promise<Shot | undefined> {
  let cursor = await (await open).transaction("shots").store.index("house").openCursor(address);
  while (cursor?.value.refused) cursor = await cursor.continue();
  return cursor?.value;
}

/** Sends what waits for one house; the answer is when to try again, in milliseconds, 0 where that is not known. */
async function sendTo(address: string, house: House | undefined): Promise<number> {
  const db = await open;
  for (;;) {
    const shot = await nextOf(address);
    if (shot?.n === undefined) {
      troubles.delete(address);
      return 0;
    }
    if (newest?.n === shot.n && Date.now() < newest.until) return newest.until - Date.now();
    if (!house) {
      troubles.set(address, { said: `This recorder is not connected with ${address} any more.`, stuck: true });
      return 0;
    }
    const answer = await put(shot, house.token);
    if (answer === "later") return later;
    if (answer === "") {
      troubles.delete(address);
      await db.delete("shots", shot.n);
    } else await db.put("shots", { ...shot, refused: answer });
    changed();
  }
}

/** Sends one shot: "" when it is kept, why it is refused for good, or "later". */
async function put(shot: Shot, token: string): Promise<string> {
  const form = new FormData();
  form.set("about", JSON.stringify(shot.about));
  form.set("run", shot.run);
  form.set("session", shot.session);
  form.set("name", shot.name);
  form.set("picture", shot.picture, "picture.png");
  const waits = (said: string, stuck = false) => {
    troubles.set(shot.house, { said, stuck });
    return "later";
  };
  try {
    const answer = await fetch(`${shot.house}/api/feed/shots/${shot.id}`, {
      method: "PUT",
      headers: { Authorization: `Bearer ${token}` },
      body: form,
      credentials: "omit",
    });
    if (answer.ok) return "";
    const said = ((await answer.json().catch(() => ({}))) as { message?: string }).message;
    if (answer.status === 401 || answer.status === 403)
      return waits(said ?? `${shot.house} does not know this recorder any more. Connect it again.`, true);
    if ([408, 429].includes(answer.status) || answer.status >= 500)
      return waits(said ?? `${shot.house} is busy. What was recorded waits here.`);
    return said ?? "Raconte refused it.";
  } catch {
    return waits(`Raconte can’t be reached at ${shot.house}. What was recorded waits here.`);
  }
}
