// What is kept in a browser belongs to one account, goes up wherever its person is, and comes back when it was deleted.
import { expect, type Page, test } from "@playwright/test";
import { createHmac } from "node:crypto";
import { arrived, openCapture, pixel, startPractice } from "./capturing";
import {
  accessible,
  browserOf,
  copy,
  drag,
  file,
  goodPassword,
  grey,
  makeDocument,
  notices,
  openManuscript,
  password,
  person,
  signIn,
} from "./support";

/** Signs in by the form, as another person on the same browser does. */
async function enter(page: Page, name: string) {
  await expect(page).toHaveURL("/");
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Documents", exact: true })).toBeVisible();
}

async function account(page: Page, choice: string) {
  await page.getByRole("button", { name: /Account of/ }).click();
  await page.getByRole("menuitem", { name: choice }).click();
}

test("pictures that are not on the server wait for their own person, whoever else signs in", async ({ page }) => {
  await signIn(page);
  await page.route("**/api/captures/**", (r) => (r.request().method() === "PUT" ? r.abort() : r.continue()));
  await page.goto("/capture");
  await page.getByRole("heading", { name: "Share a screen" }).click();
  await copy(page, grey(91));
  await page.keyboard.press("Control+v");
  await expect(page.getByText(/1 picture waits in this browser/)).toBeVisible();

  // Whoever signs out is told, and may stay.
  await account(page, "Sign out");
  const dialog = page.getByRole("dialog", { name: "Not everything is on the server yet" });
  await expect(dialog).toContainText("1 picture is still on the way.");
  await accessible(page);
  await dialog.getByRole("button", { name: "Stay" }).click();
  await account(page, "Sign out");
  await dialog.getByRole("button", { name: "Leave it and sign out" }).click();

  // Another person on this browser sees nothing of it, and sends nothing of it.
  await page.unroute("**/api/captures/**");
  await enter(page, "tomasz");
  let sent = 0;
  page.on("request", (r) => (sent += r.method() === "PUT" && r.url().includes("/shots/") ? 1 : 0));
  await page.goto("/capture");
  await expect(page.getByText("Shots are listed here in the order taken.")).toBeVisible();
  await copy(page, grey(17));
  await page.keyboard.press("Control+v");
  await arrived(page, 1); // what had waited would have gone before
  expect(sent).toBe(1);
  await account(page, "Sign out");

  // Back, it goes up.
  await enter(page, "ines");
  await page.goto("/capture");
  const [shot] = await arrived(page, 1);
  expect(await pixel(page, shot?.id ?? "", 100, 100)).toEqual([91, 91, 91, 255]);
  await expect(page.getByText(/in this browser/)).toBeHidden();
});

test("a document that is left while its pictures go up is saved all the same, and after a reload too", async ({
  page,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Left early ${Date.now()}`, [{ words: "One" }]);
  let hold = true;
  await page.route("**/api/shots/**", async (r) => {
    if (r.request().method() === "PUT" && hold) await r.abort();
    else await r.continue();
  });
  await page.goto(`/d/${id}/write`);
  await page
    .getByLabel("Add pictures", { exact: true })
    .last()
    .setInputFiles([file("2.png", grey(60)), file("3.png", grey(70))]);
  await expect(page.locator("[data-block]")).toHaveCount(3);
  await page.getByRole("link", { name: "Raconte, to the library" }).click();
  await expect(page.getByText(/2 pictures wait in this browser/)).toBeVisible();
  // Leaving the page is asked about.
  let asked = "";
  page.on("dialog", (d) => (asked = d.type()));
  await page.getByRole("heading", { name: "Documents" }).click();
  await page.reload();
  expect(asked).toBe("beforeunload");
  hold = false;
  const steps = async () =>
    (
      (await (await page.request.get(`/api/documents/${id}`)).json()) as {
        blocks: { content: { figures: unknown[] } }[];
      }
    ).blocks;
  await expect.poll(async () => (await steps()).length).toBe(3);
  expect((await steps()).map((s) => s.content.figures.length)).toEqual([0, 1, 1]);
  await expect(page.getByText(/in this browser|are being saved/)).toBeHidden();
});

test("deleted documents and shots are found, with the day they go, and come back", async ({ page }) => {
  await signIn(page);
  const title = `Thrown away ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [{ words: "One", picture: grey(33) }]);
  await page.reload();
  await page.getByRole("button", { name: `Actions for ${title}` }).click();
  await page.getByRole("menuitem", { name: "Delete" }).click();
  await expect(page.getByText(`“${title}” is deleted.`).first()).toBeVisible();
  await page.reload();
  await page.getByRole("link", { name: "Deleted" }).click();
  const row = page.getByRole("list", { name: "Deleted documents" }).getByRole("listitem").filter({ hasText: title });
  const day = new Date(Date.now() + 30 * 86_400_000);
  await expect(row).toContainText(
    `Goes for good on ${day.toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" })}`,
  );
  await accessible(page);
  await row.getByRole("button", { name: `Restore ${title}` }).click();
  await expect(row).toHaveCount(0);
  expect((await page.request.get(`/api/documents/${id}`)).ok()).toBe(true);

  const capture = `c-${Date.now()}`;
  await page.request.put(`/api/captures/${capture}`, { data: { name: "Thrown away" } });
  const shot = `s-${Date.now()}`;
  await page.request.put(`/api/captures/${capture}/shots/${shot}`, {
    multipart: {
      about: JSON.stringify({ taken: new Date().toISOString(), source: "file" }),
      picture: file("a.png", grey(44)),
    },
  });
  await page.request.put("/api/shots/discarded", { data: { shots: [shot], discarded: true } });
  await page.reload();
  const deleted = page.getByRole("list", { name: "Deleted shots" }).getByRole("listitem");
  await expect(deleted.first()).toContainText("Goes on");
  const before = await deleted.count();
  await deleted.first().getByRole("button", { name: "Restore" }).click();
  await expect(deleted).toHaveCount(before - 1);
});

test("a countdown takes its shot while its tab is hidden", async ({ page }) => {
  await signIn(page);
  await openCapture(page, { what: "everything", when: "delay", delay: 2 });
  await startPractice(page);
  // What a browser does with a tab that another window covers: it is hidden and paints nothing any more.
  await page.evaluate(() => {
    Object.defineProperty(document, "visibilityState", { get: () => "hidden" });
    Object.defineProperty(document, "hidden", { get: () => true });
    globalThis.requestAnimationFrame = () => 0;
  });
  await page.getByRole("button", { name: /^Take/ }).click();
  await arrived(page, 1);
});

test("an invited person chooses a password, changes it, and ends other sessions", async ({ page, browser }) => {
  const admin = await browserOf(browser, "admin");
  const someone = await person(admin.request, "author");
  await page.goto(someone.link);
  await expect(page.getByRole("heading")).toHaveText(`Welcome, ${someone.displayName}. Choose your password.`);
  await accessible(page);
  await page.getByLabel("Password, at least 10 characters").fill("qwertyuiop");
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByRole("alert")).toContainText("This password is guessed soon");
  await page.getByLabel("Password, at least 10 characters").fill(goodPassword);
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.getByRole("heading", { name: "Documents" })).toBeVisible();
  const there = await browserOf(browser, "");
  await there.goto(someone.link);
  await expect(there.getByRole("heading")).toContainText("This link has been used, or is too old.");
  await there.goto("/");
  await there.getByLabel("Name").fill(someone.name);
  await there.getByLabel("Password").fill(goodPassword);
  await there.getByRole("button", { name: "Sign in" }).click();
  await expect(there.getByRole("heading", { name: "Documents" })).toBeVisible();

  await account(page, "Your account");
  await accessible(page);
  const change = async (old: string, fresh: string) => {
    await page.getByLabel("Present password").fill(old);
    await page.getByLabel(/New password/).fill(fresh);
    await page.getByRole("button", { name: "Change the password" }).click();
  };
  await change("wrong", "nine sheds of plum");
  await expect(page.getByRole("alert")).toContainText("The password is wrong.");
  await change(goodPassword, "nine sheds of plum");
  await expect(page.getByRole("status").filter({ hasText: "Your password is changed." })).toBeVisible();
  await there.reload();
  await expect(there.getByRole("button", { name: "Sign in" })).toBeVisible();

  // Disabled while writing: signed out at once, with nothing lost.
  const { id } = await makeDocument(page.request, `Left ${Date.now()}`, [{ words: "Stop" }]);
  await openManuscript(page, id);
  await admin.request.patch(`/api/accounts/${someone.account}`, { data: { disabled: true } });
  await expect(page.getByRole("dialog", { name: "Sign in again to go on" })).toBeVisible();
  await page.getByLabel("Password").fill("nine sheds of plum");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert")).toContainText("This account is disabled.");
  await admin.context().close();
});

/** What an authenticator shows for a secret (RFC 6238: SHA-1, 30 seconds, six digits). */
function oneTimeCode(secret: string) {
  const bits = [...secret]
    .map((c) => "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".indexOf(c).toString(2).padStart(5, "0"))
    .join("");
  const key = Buffer.from((bits.match(/.{8}/g) ?? []).map((b) => parseInt(b, 2)));
  const step = Buffer.alloc(8);
  step.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000)));
  const sum = createHmac("sha1", key).update(step).digest();
  const number = sum.readUInt32BE((sum.at(-1) ?? 0) & 15) & 0x7fffffff;
  return String(number % 1_000_000).padStart(6, "0");
}

test("one-time codes are turned on, asked for, and turned off with password and code", async ({ page, browser }) => {
  const admin = await browserOf(browser, "admin");
  const someone = await person(admin.request, "author");
  await page.goto(someone.link);
  await page.getByLabel("Password, at least 10 characters").fill(goodPassword);
  await page.getByRole("button", { name: "Begin" }).click();
  await account(page, "Your account");
  const codes = page.getByRole("region", { name: "One-time codes" });
  await codes.getByRole("button", { name: "Turn on" }).click();
  const code = oneTimeCode(await codes.locator("[data-secret]").innerText());
  await codes.getByLabel("The code that it shows").fill(code);
  await codes.getByRole("button", { name: "Turn on" }).click();
  await expect(codes.locator("[data-recovery] li")).toHaveCount(10);
  const recovery = await codes.locator("[data-recovery] li").allInnerTexts();
  await codes.getByRole("button", { name: "I have them" }).click();

  const there = await browserOf(browser, "");
  await there.goto("/");
  await there.getByLabel("Name").fill(someone.name);
  await there.getByLabel("Password").fill(goodPassword);
  await there.getByRole("button", { name: "Sign in" }).click();
  await there.getByLabel("One-time code").fill(code);
  await there.getByRole("button", { name: "Sign in" }).click();
  await expect(there.getByRole("alert")).toContainText("was used before");
  await there.getByLabel("One-time code").fill(recovery[0]);
  await there.getByRole("button", { name: "Sign in" }).click();
  await expect(there.getByRole("heading", { name: "Documents" })).toBeVisible();

  await codes.getByRole("button", { name: "Turn off" }).click();
  await accessible(page);
  const end = async (proof: string) => {
    await codes.getByLabel("Your password").fill(goodPassword);
    await codes.getByLabel("A code").fill(proof);
    await codes.getByRole("button", { name: "Turn off" }).click();
  };
  await end(recovery[0]);
  await expect(page.getByRole("status").last()).toContainText("The code is wrong");
  await end(recovery[1]);
  await expect(codes.getByRole("button", { name: "Turn on" })).toBeVisible();
  await admin.context().close();
});

test("what is concealed in a shot that was handed out is asked about, and concealed there too", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const title = `Handed out ${Date.now()}`;
  const { id, figures } = await makeDocument(page.request, title, [{ words: "Look", picture: grey(120) }]);
  const { seq } = (await (await page.request.get(`/api/documents/${id}`)).json()) as { seq: number };
  await page.request.put(`/api/documents/${id}/state`, { data: { act: "release", seq } });
  const reads = await (await browser.newContext()).newPage();
  await signIn(reads, "ruben");
  const corner = () =>
    reads.evaluate(async (address) => {
      const picture = await createImageBitmap(await (await fetch(address, { cache: "no-store" })).blob());
      const canvas = new OffscreenCanvas(picture.width, picture.height).getContext("2d");
      canvas?.drawImage(picture, 0, 0);
      return [...(canvas?.getImageData(400, 225, 1, 1).data.slice(0, 3) ?? [])];
    }, `/api/documents/${id}/figures/${figures[0]}`);
  expect(await corner()).toEqual([120, 120, 120]);

  await page.goto(`/d/${id}/write`);
  await page.getByRole("button", { name: "Mark the picture of step 1" }).click();
  await expect(page.getByRole("application")).toBeVisible();
  await page.keyboard.press("z");
  await drag(page, [0.3, 0.3], [0.7, 0.7]);
  const ask = page.getByRole("alert").filter({ hasText: "was handed out before" });
  await expect(ask).toContainText(`in 1 revision of “${title}”`);
  await accessible(page);
  await ask.getByRole("button", { name: "Conceal it there too" }).click();
  await expect(notices(page).getByText("Concealed in what was handed out too.")).toBeVisible();
  expect(await corner()).not.toEqual([120, 120, 120]);
  await page.getByRole("button", { name: "Close the picture" }).click();
  await page.getByRole("button", { name: "More for this document" }).click();
  await page.getByRole("menuitem", { name: "History" }).click();
  await expect(page.getByRole("dialog")).toContainText(
    "Concealed in what was handed out before: 1 place in 1 revision.",
  );
});

test("a list of words that can't be read can't be emptied, nor one that someone else has changed", async ({ page }) => {
  await signIn(page);
  await page.route("**/api/secret-words", (r) => r.abort());
  const words = page.getByRole("region", { name: "Words to conceal" });
  await page.goto("/setup/words");
  await expect(words.getByText("The list can’t be read now")).toBeVisible();
  await expect(words.getByLabel("One on each line")).toBeDisabled();
  await page.unroute("**/api/secret-words");
  await page.reload();
  const list = words.getByLabel("One on each line");
  await expect(list).toBeEnabled();
  const now = (await (await page.request.get("/api/secret-words")).json()) as { version: number; words: string[] };
  await page.request.put("/api/secret-words", { data: { version: now.version, words: ["Swordfish"] } });
  await list.fill("Marlin");
  await words.getByRole("button", { name: "Save the list" }).click();
  await expect(words.getByRole("alert")).toContainText("Swordfish");
  await words.getByRole("button", { name: "Save the list" }).click();
  await expect(notices(page).getByText("1 word is on the list.")).toBeVisible();
});
