import { reasonOf } from "../../base/reason";
import { core } from "../../base/core/core";
import { captionOf } from "../shots/use";
import { saveAs } from "../../base/ui/saveAs";
import { local } from "../../base/storage/local";
import { api, expect } from "../../base/api/client";
import { beginReport } from "../reports/begin";
import type { After, From, Settings } from "../shots/settings";
import { type Item, shots } from "../shots/shots";
import { stepsOf } from "./placing";
import { parsed } from "../../base/typed";

/** What can be done with a shot as soon as it is taken, in the order in which it is done. */
export const afters: Record<Exclude<keyof After, "send">, { label: string; said: string }> = {
  copy: { label: "Copy each shot", said: "copied" },
  save: { label: "Save each shot as a file", said: "saved" },
  add: { label: "Add each shot to the document in hand", said: "added to the document in hand" },
  open: { label: "Open each shot", said: "opened" },
  report: { label: "Begin a bug report with each shot", said: "made a report" },
};

const none: After = { copy: false, save: false, add: false, open: false, report: false };

/** Whence shots come, as people read it. */
export const froms: Record<From, string> = {
  screen: "the shared screen",
  practice: "the workstation",
  clipboard: "the clipboard",
  file: "files",
};

const isFrom = (source: string): source is From => source in froms;

/**
 * What happens after a shot from a source. With what comes from a live one, what was chosen before sources had a choice
 * each.
 */
export function afterOf(s: Settings, source = ""): After {
  const chosen = isFrom(source) ? s.after?.[source] : undefined;
  return chosen ?? (source === "clipboard" || source === "file" ? none : { ...none, copy: s.copy, open: s.open });
}

const inHand = "raconte-in-hand";

/** The document that was written last is the one in hand. */
export const takeInHand = (id: string, title: string) => local.set(inHand, JSON.stringify({ id, title }));

const longest = 20_000; // milliseconds that a shot may take to arrive
const look = 80; // milliseconds between looks

/** A shot as the server has it, once it does; nothing where it does not arrive. */
export async function arrived(id: string): Promise<Item | undefined> {
  for (let waited = 0; waited < longest; waited += look) {
    const there = shots.list().find((i) => i.id === id && i.taken);
    if (there) return there;
    await new Promise((done) => setTimeout(done, look));
  }
  return undefined;
}

/** What the file of a shot is called: by the words of what was done in it, else by the pattern. */
function fileNameOf(item: Item): string {
  if (!item.about.action) return item.name;
  const ending = /\.[a-z0-9]+$/i.exec(item.name)?.[0] ?? ".png";
  return `${core.safeName(captionOf(item))}${ending}`;
}

/**
 * Does what is done after a shot, but for copying, which is done while the press still counts. The answer is where that
 * leads.
 */
export async function doAfter(item: Item, after: After, say: (text: string, bad?: boolean) => void): Promise<string> {
  if (after.save && item.blob) saveAs(item.blob, fileNameOf(item));
  if (!after.add && !after.report && !after.send) return after.open ? `/shot/${item.id}` : "";
  const there = await arrived(item.id);
  if (!there?.taken) {
    say("The shot is kept in the session; it is not on the server yet, and nothing else was done with it.", true);
    return "";
  }
  try {
    if (after.add) await add(there, say);
    if (after.report || after.send) {
      const [content] = await stepsOf([there]);
      const figure = content?.figures[0];
      if (!figure) return "";
      const to = await beginReport("report", { shot: there.taken, figure });
      return after.send ? `${to}&send=${encodeURIComponent(after.send)}` : to;
    }
  } catch (e) {
    say(`The shot is kept in the session. ${reasonOf(e)}`, true);
  }
  return after.open ? `/shot/${item.id}` : "";
}

async function add(item: Item, say: (text: string, bad?: boolean) => void) {
  const kept = local.get(inHand);
  if (!kept) {
    say("No document is in hand: open one under Write first. The shot is kept in the session.", true);
    return;
  }
  const { id, title } = parsed<{ id: string; title: string }>(kept);
  await expect(
    api.POST("/api/documents/{document}/steps", {
      params: { path: { document: id } },
      body: { blocks: await stepsOf([item]) },
    }),
  );
  say(`Added to “${title}”.`);
}
