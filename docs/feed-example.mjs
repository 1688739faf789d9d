// A recorder for Raconte's feed: it sends the shots that "raconte practice" wrote to a folder, in order, each until it is
// answered. See feed.md.
//
//   RACONTE_TOKEN=… node feed-example.mjs FOLDER http://127.0.0.1:8420 ["name of the session"]
import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { join } from "node:path";

const [folder, address, session] = process.argv.slice(2);
const token = process.env.RACONTE_TOKEN;
if (!folder || !address || !token) {
  console.error("RACONTE_TOKEN=… node feed-example.mjs FOLDER ADDRESS [SESSION]");
  process.exit(2);
}

const mostTries = 10;

async function send(file, about) {
  const picture = await readFile(join(folder, file));
  const form = new FormData();
  form.set("about", JSON.stringify({ ...about, source: "feed" }));
  form.set("name", file);
  if (session) form.set("session", session);
  form.set("picture", new Blob([picture]), file);
  // The id comes from what is sent, so that the same shot sent again is known.
  const id = createHash("sha256").update(`${session} ${file} ${about.taken}`).update(picture).digest("hex");
  for (let n = 1; ; n++) {
    try {
      const answer = await fetch(`${address}/api/feed/shots/${id}`, {
        method: "PUT",
        headers: { authorization: `Bearer ${token}` },
        body: form,
      });
      if (answer.ok) return;
      const { message } = await answer.json().catch(() => ({}));
      if (answer.status < 500 && answer.status !== 429) throw Object.assign(new Error(message ?? `answered ${answer.status}`), { final: true });
    } catch (e) {
      if (e.final || n === mostTries) throw e;
    }
    await new Promise((resolve) => setTimeout(resolve, Math.min(500 * n, 5000)));
  }
}

for (const { file, about } of JSON.parse(await readFile(join(folder, "session.json"), "utf8"))) {
  try {
    await send(file, about);
    console.log("sent", file);
  } catch (e) {
    console.error(`${file}: ${e.message}`);
    process.exitCode = 1;
  }
}
