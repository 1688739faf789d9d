import * as queue from "./queue";
import type { Check, House, Message, Status } from "./types";

// The small panel that the button opens: connects, starts, pauses, stops, and tells what waits.

const at = <T extends HTMLElement>(id: string) => document.getElementById(id) as T;
const ask = async <A = Status>(message: Message): Promise<A> => {
  const answer = await chrome.runtime.sendMessage<Message, A & { error?: string }>(message);
  if (answer.error) throw new Error(answer.error);
  return answer;
};
const whole = { origins: ["<all_urls>"] };

/** The tab that the panel was opened over. */
const over = (async () => {
  const named = Number(new URLSearchParams(location.search).get("tab"));
  if (named) return chrome.tabs.get(named);
  return (await chrome.tabs.query({ active: true, currentWindow: true }))[0];
})();

/** Runs in a page: whether it is a Raconte in which someone is signed in who may record. */
async function isHouse(): Promise<{ name: string } | undefined> {
  if (!document.querySelector('meta[name="application-name"][content="Raconte"]')) return undefined;
  const answer = await fetch("/api/session");
  return answer.ok ? { name: ((await answer.json()) as { displayName: string }).displayName } : undefined;
}

/** Runs in a page of Raconte: makes a token for this recorder. */
async function makeToken(name: string): Promise<{ token?: string; message?: string }> {
  const answer = await fetch("/api/devices", {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ name }),
  });
  return (await answer.json()) as { token?: string; message?: string };
}

async function inPage<A extends unknown[], R>(tab: number, func: (...args: A) => Promise<R>, ...args: A) {
  const [found] = await chrome.scripting.executeScript({ target: { tabId: tab }, func, args });
  return found?.result as R | undefined;
}

let offered: House | undefined;
let wrong = ""; // why what was pressed last did not work

const outcome = { same: "", moved: "has moved", changed: "is not quite as it was", gone: "was not found" };

/** A run that is gone through again: which step it is at, what it asks, and what came of it. */
function drawCheck(c: Check) {
  const asking = c.state === "asking";
  at("checking").hidden = c.state !== "going" && !asking;
  at("checked").hidden = c.state !== "done";
  at("where").textContent = `Step ${c.at + 1} of ${c.steps.length}`;
  at("step").textContent = c.steps[c.at]?.words ?? "";
  at("question").textContent = c.ask ?? "Looking …";
  at("do").hidden = !asking || Boolean(c.hand);
  at("by-hand").hidden = !asking || !c.hand;
  at("leave").hidden = !asking;
  const odd = c.fits.flatMap((fit, i) => (fit === "same" ? [] : [`${c.steps[i]?.words ?? ""} – ${outcome[fit]}`]));
  const fitting = c.fits.filter((f) => f !== "gone").length;
  const left = c.steps.length - c.fits.length;
  const unseen = left > 0 ? ` ${left} were not looked at.` : "";
  at("fits").textContent = `${fitting} of ${c.fits.length} steps fit.${unseen}${c.said ? ` ${c.said}` : ""}`;
  if (at("unfit").childElementCount !== odd.length) {
    at("unfit").replaceChildren(
      ...odd.map((words) => Object.assign(document.createElement("li"), { textContent: words })),
    );
  }
  at<HTMLAnchorElement>("see-check").href = `${c.house}/capture/${c.as}`;
}

/** Shots that don't go out by themselves: each with the reason, to be saved as a file or dropped. */
function drawHeld(all: Status["held"]) {
  at("held").hidden = all.length === 0;
  const told = all.map((h) => h.n).join();
  if (at("held-list").dataset.told === told) return;
  at("held-list").dataset.told = told;
  const button = (label: string, act: () => Promise<void>) => {
    const made = Object.assign(document.createElement("button"), { textContent: label });
    made.addEventListener("click", () => void act().catch((e: Error) => (wrong = e.message)));
    return made;
  };
  at("held-list").replaceChildren(
    ...all.map((h) => {
      const row = document.createElement("li");
      const says = Object.assign(document.createElement("p"), { textContent: `${h.name || h.session}: ${h.why}` });
      row.append(
        says,
        button("Save it", () => saveFile(h)),
        button("Drop it", async () => draw(await ask({ drop: [h.n] }))),
      );
      return row;
    }),
  );
  at("drop-all").hidden = all.length < 2;
  at("drop-all").onclick = () => void ask({ drop: all.map((h) => h.n) }).then(draw);
}

/** Saves the picture of a shot that waits. */
async function saveFile({ n, name, session }: Status["held"][number]) {
  const picture = await queue.picture(n);
  if (!picture) return;
  const href = URL.createObjectURL(picture);
  const file = `${(name || session).replace(/[\\/:*?"<>|]+/g, " ").trim() || "picture"}.png`;
  Object.assign(document.createElement("a"), { href, download: file }).click();
  setTimeout(() => URL.revokeObjectURL(href), 10_000);
}

function draw(s: Status) {
  const going = s.run.state !== "idle";
  const known = s.houses.length > 0;
  const checking = s.check.state === "going" || s.check.state === "asking";
  const complaint = wrong || s.run.said || (s.waiting > 0 ? s.trouble : "");
  at("said").hidden = !complaint;
  at("said").textContent = complaint ?? "";
  at("offer").hidden = !offered || going;
  at("unknown").hidden = known || Boolean(offered);
  at("ready").hidden = !known || going || checking || Boolean(offered);
  at("again").hidden = at("ready").hidden;
  drawCheck(s.check);
  at("going").hidden = !going;
  at("done").hidden = going || checking || s.run.taken === 0 || Boolean(offered);
  at("houses").hidden = s.houses.length < 2;
  at<HTMLSelectElement>("house").replaceChildren(
    ...s.houses.map((h) => new Option(h.address, h.address, false, h.address === s.house)),
  );
  at("count").textContent = s.run.taken === 1 ? "1 picture" : `${s.run.taken} pictures`;
  at("state").textContent = s.run.state === "paused" ? "paused: nothing is taken or sent" : "being recorded";
  at("pause").textContent = s.run.state === "paused" ? "Go on" : "Pause";
  at("result").textContent = `${s.run.session}: ${s.run.taken} pictures.`;
  at<HTMLAnchorElement>("see").href = `${s.run.house}/capture/${s.run.id}`;
  at("apart").hidden = !known || location.search.includes("&window");
  at("waiting").textContent =
    s.waiting === 0 ? "" : s.waiting === 1 ? "1 picture is not sent yet." : `${s.waiting} pictures are not sent yet.`;
  drawHeld(s.held);
  if (document.activeElement !== at("list")) at<HTMLTextAreaElement>("list").value = s.never.join("\n");
}

/** The same once it is known: permission has to be asked for in the press itself, before anything is waited for. */
let shown: chrome.tabs.Tab | undefined;

async function offer() {
  const tab = await over;
  shown = tab;
  const status = await ask({ ask: "status" });
  const address = tab?.url ? new URL(tab.url).origin : "";
  if (tab?.id && /^https?:/.test(address) && !status.houses.some((h) => h.address === address)) {
    const house = await inPage(tab.id, isHouse).catch(() => undefined);
    if (house) offered = { address, token: "", name: house.name };
  }
  at("address").textContent = offered ? `${offered.address} (${offered.name})` : "";
  draw(status);
}

function on(id: string, act: () => Promise<Status | undefined>) {
  at(id).addEventListener("click", () => {
    wrong = "";
    void act().then(
      (s) => s && draw(s),
      (e: Error) => (wrong = e.message),
    );
  });
}

async function start(any: boolean) {
  const tab = shown;
  // The browser asks a person for this; where they say no, the tab alone is recorded, as far as it stays on its site.
  if (any && !(await chrome.permissions.request(whole))) return undefined;
  return tab?.id === undefined ? undefined : ask({ do: "start", tab: tab.id, any });
}

on("connect", async () => {
  const tab = shown;
  if (!offered || tab?.id === undefined) return undefined;
  const system = navigator.userAgent.includes("Firefox/") ? "Firefox" : "Chromium";
  // In the press itself, and before anything is made that needs it: so that its Capture place can start and stop. All
  // else works without.
  await chrome.permissions.request({ origins: [`${offered.address.replace(/:\d+$/, "")}/*`] }).catch(() => false);
  const made = await inPage(tab.id, makeToken, `Browser recorder (${system})`);
  if (!made?.token) {
    at("said").hidden = false;
    at("said").textContent = made?.message ?? "Raconte gave no answer.";
    return undefined;
  }
  const connect = { ...offered, token: made.token };
  offered = undefined;
  return ask({ connect });
});
on("here", () => start(false));
on("any", () => start(true));
on("window", async () => {
  const tab = await over;
  await chrome.windows.create({
    url: `panel.html?tab=${tab?.id ?? ""}&window`,
    type: "popup",
    width: 360,
    height: 320,
  });
  window.close();
  return undefined;
});
at<HTMLDetailsElement>("runs").addEventListener("toggle", () => {
  void ask<{ id: string; name: string; shots: number }[]>({ ask: "runs" }).then(
    (runs) => at("which").replaceChildren(...runs.map((r) => new Option(`${r.name} (${r.shots})`, r.id))),
    (e: Error) => (wrong = e.message),
  );
});
on("check", async () => {
  const tab = await over;
  const run = at<HTMLSelectElement>("which").value;
  return tab?.id === undefined || !run ? undefined : ask({ check: run, tab: tab.id });
});
on("do", () => ask({ decide: "do" }));
on("by-hand", () => ask({ decide: "done" }));
on("leave", () => ask({ decide: "leave" }));
on("end", () => ask({ decide: "stop" }));
on("stop", () => ask({ do: "stop" }));
on("pause", async () => ask({ do: at("pause").textContent === "Pause" ? "pause" : "go-on" }));
on("save", () =>
  ask({
    never: at<HTMLTextAreaElement>("list")
      .value.split("\n")
      .map((l) => l.trim())
      .filter(Boolean),
  }),
);
at("house").addEventListener("change", () => void ask({ choose: at<HTMLSelectElement>("house").value }).then(draw));

void offer();
setInterval(() => void ask({ ask: "status" }).then(draw), 500);
