import { type DBSchema, openDB } from "idb";
import { kept } from "./state";

// Shots wait here, in order, until the server has confirmed them: across a lost network, a server that is down, and a
// browser that was killed.

export type Action = { kind: string; element?: object; text?: string };
type Shot = {
  n?: number;
  id: string;
  house: string;
  run: string;
  session: string;
  name: string;
  about: { action?: Action };
  picture: Blob;
};

interface Kept extends DBSchema {
  shots: { key: number; value: Shot };
}

const open = openDB<Kept>("recorder", 1, {
  upgrade: (db) => void db.createObjectStore("shots", { keyPath: "n", autoIncrement: true }),
});

const settles = 1500; // milliseconds in which the last act may turn out to be another
let newest: { n: number; until: number } | undefined;
let sending = false;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Why shots wait, in words for people. */
export let trouble = "";
let changed: () => void = () => undefined;
export const onChange = (hear: () => void) => void (changed = hear);

export const waiting = async () => (await open).count("shots");

export async function add(shot: Shot) {
  const n = await (await open).add("shots", shot);
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

function again(ms: number) {
  clearTimeout(timer);
  timer = setTimeout(() => void send(), ms);
}

/** Sends what waits, one after the other; what the server refuses for good is let go, and told of. */
export async function send() {
  if (sending) return;
  sending = true;
  let wait = 0;
  try {
    const db = await open;
    const { houses } = await kept();
    for (;;) {
      const cursor = await db.transaction("shots").store.openCursor();
      const shot = cursor?.value;
      if (!shot?.n) break;
      if (newest?.n === shot.n && Date.now() < newest.until) {
        wait = newest.until - Date.now();
        break;
      }
      const house = houses.find((h) => h.address === shot.house);
      if (!house) {
        trouble = "The shots that wait belong to a Raconte that this recorder is not connected with any more.";
        break;
      }
      const answer = await put(shot, house.token);
      if (answer === "later") {
        wait = 3000;
        break;
      }
      trouble = answer;
      await db.delete("shots", shot.n);
      changed();
    }
  } finally {
    sending = false;
    changed();
  }
  if (wait) again(wait);
}

/** Sends one shot: "" when it is kept, why it is refused for good, or "later". */
async function put(shot: Shot, token: string): Promise<string> {
  const form = new FormData();
  form.set("about", JSON.stringify(shot.about));
  form.set("run", shot.run);
  form.set("session", shot.session);
  form.set("name", shot.name);
  form.set("picture", shot.picture, "picture.png");
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
      trouble = said ?? "Raconte does not know this recorder any more.";
    if ([401, 403, 408, 429].includes(answer.status) || answer.status >= 500) return "later";
    return said ?? "Raconte refused a shot.";
  } catch {
    trouble = "Raconte can’t be reached. What was recorded waits here.";
    return "later";
  }
}
