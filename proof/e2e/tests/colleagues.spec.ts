import { expect, type Page, test } from "@playwright/test";
import { randomUUID } from "node:crypto";
import {
  accessible,
  browserOf,
  drag,
  grey,
  makeDocument,
  notices,
  openManuscript,
  password,
  saved,
  signIn,
  words,
  write,
} from "./support";

/** A folder whose documents one person approves who has not written them. */
async function approvedFolder(admin: Page) {
  const answer = await admin.request.post("/api/folders", {
    data: { name: `Approved ${randomUUID().slice(0, 8)}`, open: true, rule: { needed: 1, notAuthor: true } },
  });
  return ((await answer.json()) as { id: string }).id;
}

const standing = (page: Page, said: RegExp) => page.getByRole("banner").getByText(said);

/** Begins to ask for approval, though comments are open: that is said first, once. */
async function askForApproval(page: Page) {
  await page.getByRole("button", { name: "Ask for approval" }).click();
  const anyway = page.getByRole("button", { name: "Ask for approval all the same" });
  await expect(anyway.or(page.getByRole("dialog", { name: "Ask for approval" }))).toBeVisible();
  if (await anyway.isVisible()) await anyway.click();
}

/** Sends a document from the manuscript to Adaeze. */
async function ask(page: Page, confirm: string, note: string, holdsFrom?: string) {
  const dialog = page.getByRole("dialog", { name: confirm });
  await dialog.getByLabel("Adaeze Quillan").check();
  await dialog.getByLabel("What they should know or look at").fill(note);
  if (holdsFrom) await dialog.getByLabel(/^Valid from/).fill(holdsFrom);
  await accessible(page);
  await dialog.getByRole("button", { name: "Send" }).click();
  await expect(dialog).toBeHidden();
}

/** Signs what waits on the page, as Adaeze. */
async function sign(page: Page) {
  await page.getByLabel("Your password, to sign").fill(password);
  await page.getByRole("button", { name: "Sign", exact: true }).click();
}

const day = (ahead: number) => new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10);

test("another look of a picture is drawn by who may not write, switched by a key, and taken", async ({
  page,
  browser,
}) => {
  const adaeze = await browserOf(browser, "adaeze");
  await signIn(page);
  const { id, figures } = await makeDocument(page.request, `Look ${Date.now()}`, [
    { words: "Look here", picture: grey(220) },
  ]);
  await adaeze.goto(`/d/${id}/review`);
  await adaeze.getByRole("button", { name: "Suggest another picture for step 1" }).click();
  const canvas = adaeze.getByRole("application");
  await expect(canvas).toBeVisible();
  await accessible(adaeze);
  await adaeze.keyboard.press("w");
  await drag(adaeze, [0.4, 0.4], [0.7, 0.7]);
  await expect(adaeze.getByRole("button", { name: "Box" })).toHaveCount(2); // on the pad, and in the picture
  await adaeze.keyboard.press("ControlOrMeta+z");
  await expect(adaeze.getByRole("button", { name: "Box" })).toHaveCount(1);
  await adaeze.keyboard.press("ControlOrMeta+y");
  await adaeze.getByRole("textbox", { name: "Why" }).fill("Frame it");
  await adaeze.getByRole("button", { name: "Suggest it" }).click();
  const look = adaeze.getByRole("img", { name: /suggested/ });
  await expect(adaeze.getByRole("button", { name: "As it is" })).toBeVisible();
  await expect(look).toBeHidden();
  await adaeze.keyboard.press("Control+Alt+o");
  await expect(look).toBeVisible();

  await openManuscript(page, id);
  await expect(page.getByRole("complementary", { name: "Remarks" })).toContainText("Frame it");
  const before = await page.locator(`[data-figure="${figures[0]}"]`).screenshot();
  await page.keyboard.press("Control+Alt+o");
  await expect(page.getByRole("button", { name: "As Adaeze Quillan suggests" })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  expect((await page.locator(`[data-figure="${figures[0]}"]`).screenshot()).equals(before)).toBe(false);
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(page.getByRole("button", { name: "As it is" })).toBeHidden();
  await saved(page);
  const kept = (await (await page.request.get(`/api/documents/${id}`)).json()) as {
    blocks: { content: { figures: { marks: { kind: string }[] }[] } }[];
  };
  expect(kept.blocks[0]?.content.figures[0]?.marks.map((m) => m.kind)).toEqual(["box"]);
});

test("three people: written, reviewed, changed, approved, replaced while it is read, confirmed", async ({
  page,
  browser,
}) => {
  test.slow(); // three browsers, and all the way
  const [admin, adaeze, ruben] = await Promise.all(["admin", "adaeze", "ruben"].map((n) => browserOf(browser, n)));
  if (!admin || !adaeze || !ruben) throw new Error("no browsers");
  await signIn(page);
  const title = `Weigh a bin ${Date.now()}`;
  const folder = await approvedFolder(admin);
  const { id } = await makeDocument(
    page.request,
    title,
    [{ words: "Put the bin on the scale" }, { words: "Read it" }],
    folder,
  );

  // Sent for review. The approver reads it as readers will, comments, and asks for changes.
  await openManuscript(page, id);
  await expect(page.getByRole("button", { name: "Ask for approval" })).toBeVisible();
  await page.getByRole("button", { name: "Ask for review" }).click();
  await ask(page, "Ask for review", "Is the scale named right?");
  await expect(standing(page, /^In review, 0 of 1$/)).toBeVisible();
  await adaeze.goto("/reviews");
  await expect(adaeze.getByRole("listitem").filter({ hasText: title })).toContainText("Is the scale named right?");
  await accessible(adaeze);
  await adaeze.getByRole("link", { name: title }).click();
  await adaeze.getByRole("button", { name: "Comment on step 1" }).click();
  await adaeze.getByRole("textbox", { name: "Your comment" }).fill("Which bin?");
  await adaeze.getByRole("button", { name: "Comment", exact: true }).last().click();
  await expect(adaeze.getByRole("region", { name: "Comment by Adaeze Quillan" })).toContainText("Which bin?");
  await adaeze.getByRole("button", { name: "Suggest other words for step 2" }).click();
  const suggesting = adaeze.getByRole("group", { name: "Suggestion for step 2" });
  await suggesting.getByRole("textbox", { name: "Suggested words" }).click();
  await adaeze.keyboard.press("ControlOrMeta+a");
  await adaeze.keyboard.type("Read it aloud");
  await suggesting.getByRole("button", { name: "Suggest it" }).click();
  await expect(adaeze.locator("ins").filter({ hasText: "aloud" })).toBeVisible();
  await adaeze.getByLabel("In a few words, if you like").fill("Say which bin.");
  await accessible(adaeze);
  await adaeze.getByRole("button", { name: "Ask for changes" }).click();
  await expect(adaeze.getByText("Asks for changes")).toBeVisible();

  // The author has both at once, and writes.
  await expect(page.getByRole("complementary", { name: "Remarks" })).toContainText("Which bin?");
  await page.getByRole("button", { name: /Notices/ }).click();
  await expect(page.getByRole("dialog", { name: "Notices" })).toContainText(
    `asks for changes in “${title}”. Say which bin.`,
  );
  await page.keyboard.press("Escape");
  await write(page, 1, "Put the empty bin on the scale");
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(words(page, 2)).toContainText("Read it aloud");
  await expect(page.getByRole("button", { name: "Take it" })).toBeHidden();
  await saved(page);

  // Approved for a later day, that is taken back; then at once. Readers have it.
  await askForApproval(page);
  await ask(page, "Ask for approval", "", day(3));
  await adaeze.goto("/reviews");
  await adaeze.getByRole("link", { name: title }).click();
  await sign(adaeze);
  await expect(adaeze.getByRole("region", { name: "Approved" })).toContainText("Revision 1 is approved.");
  await ruben.goto(`/d/${id}`);
  await expect(ruben.getByText("This document can’t be shown")).toBeVisible();
  await page.goto(`/d/${id}/review`);
  await page.getByRole("button", { name: "Withdraw it" }).click();
  await expect(page.getByRole("region", { name: "Approved" })).toBeHidden();
  await openManuscript(page, id);
  await askForApproval(page);
  await ask(page, "Ask for approval", "");
  await expect(adaeze.getByLabel("Your password, to sign")).toBeVisible();
  await sign(adaeze);
  await expect(standing(page, /^Ready, revision 1$/)).toBeVisible();
  await ruben.reload();
  await expect(ruben.getByText("Put the empty bin on the scale")).toBeVisible();
  await ruben.goto(`/d/${id}/pages`);
  await expect(ruben.getByText(/Approved by Adaeze Quillan on .* \([0-9a-f]{12}\)/)).toBeVisible();
  await ruben.goto(`/d/${id}`);

  // Asked to confirm: only once all was on the screen.
  await expect(standing(page, /^Ready, revision 1$/)).toBeVisible();
  await page.getByRole("button", { name: "More for this document" }).click();
  await page.getByRole("menuitem", { name: /Ask people to confirm/ }).click();
  const confirming = page.getByRole("dialog", { name: "Read and understood" });
  await confirming.getByLabel("Ruben Hask").check();
  await accessible(page);
  await confirming.getByRole("button", { name: "Ask them" }).click();
  await expect(confirming.getByText("0 of 1 have confirmed")).toBeVisible();
  await confirming.getByRole("button", { name: "Close" }).click();
  await ruben.goto("/reviews");
  await ruben.getByRole("link", { name: title }).click();
  await ruben.getByRole("button", { name: "I have read and understood it" }).click();
  await expect(ruben.getByText("You have confirmed revision 1")).toBeVisible();

  // Replaced while it is read: the page says so at once, and stays until its reader wants the other.
  await write(page, 2, "Read the weight from the display");
  await saved(page);
  await askForApproval(page);
  await ask(page, "Ask for approval", "");
  await adaeze.goto(`/d/${id}/review?view=changes`);
  await expect(adaeze.locator("ins").filter({ hasText: "display" })).toBeVisible();
  await accessible(adaeze);
  await sign(adaeze);
  const bar = ruben.getByRole("status").filter({ hasText: "This page has been replaced" });
  await expect(bar).toContainText("revision 2 is valid now");
  await expect(ruben.getByText("Read it aloud")).toBeVisible();
  await accessible(ruben);
  await bar.getByRole("button", { name: "Show revision 2" }).click();
  await expect(ruben.getByText("Read the weight from the display")).toBeVisible();

  // Whoever scans the code of a printed page is told what it is worth, without an account.
  const passer = await browserOf(browser, "");
  await passer.goto(`/d/${id}?printed=1`);
  await expect(passer.getByText(/Your printed page is revision 1. It was replaced by revision 2 on/)).toBeVisible();
  await accessible(passer);
  for (const p of [admin, adaeze, ruben, passer]) await p.context().close();
});

test("a place in a picture is commented on, stays there when the picture is cropped, and is seen where it is written", async ({
  page,
}) => {
  await signIn(page);
  const { id, figures } = await makeDocument(page.request, `Pinned ${Date.now()}`, [
    { words: "Look here", picture: grey(150, 800, 400) },
  ]);
  await page.goto(`/d/${id}/review`);
  await page.getByRole("button", { name: "Comment on the picture of step 1" }).click();
  const place = page.getByRole("application");
  const box = await place.boundingBox();
  if (!box) throw new Error("no picture");
  await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.75, box.y + box.height * 0.75, { steps: 4 });
  await page.mouse.up();
  await page.getByRole("textbox", { name: "Your comment" }).fill("This one?");
  await page.getByRole("button", { name: "Comment", exact: true }).last().click();
  const pin = page.getByRole("button", { name: "Place of the comment by Ines Brackwater" });
  await expect(pin).toBeVisible();
  await accessible(page);

  // Cropped to the right half, the middle of the picture is its left edge.
  const whole = (await (await page.request.get(`/api/documents/${id}`)).json()) as {
    blocks: { id: string; version: number; order: string; content: { figures: object[] } }[];
  };
  const [block] = whole.blocks;
  if (!block) throw new Error("no step");
  const crop = { x: 400, y: 0, w: 400, h: 400 };
  const cropped = { ...block.content, figures: [{ ...block.content.figures[0], crop }] };
  const change = {
    id: randomUUID(),
    blocks: [{ id: block.id, base: block.version, order: block.order, removed: false, content: cropped }],
  };
  expect((await page.request.post(`/api/documents/${id}/changes`, { data: change })).ok()).toBe(true);
  await openManuscript(page, id);
  const picture = await page.locator(`[data-figure="${figures[0]}"]`).boundingBox();
  const sign = await pin.boundingBox();
  if (!picture || !sign) throw new Error("no pin");
  const side = Math.min(picture.width, picture.height); // the picture is square, in the middle of its place
  expect(sign.x + sign.width / 2).toBeCloseTo(picture.x + (picture.width - side) / 2 + side * 0.02, -1);
  expect(sign.y + sign.height / 2).toBeCloseTo(picture.y + picture.height / 2, -1);
  await pin.click();
  await expect(page.getByRole("region", { name: "Comment by Ines Brackwater" })).toBeFocused();
});

test("a link is made, read without an account, commented by, and revoked while it is open", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Shared ${Date.now()}`, [{ words: "Close the gate" }]);
  const { seq } = (await (await page.request.get(`/api/documents/${id}`)).json()) as { seq: number };
  await page.request.put(`/api/documents/${id}/state`, { data: { act: "release", seq } });
  await openManuscript(page, id);
  await page.getByRole("button", { name: "Share", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "Share" });
  await dialog.getByLabel("Whom or what it is for").fill("Night shift");
  await dialog.getByLabel("Password, if one is to be asked for").fill("owls");
  await dialog.getByLabel("They may comment").check();
  await accessible(page);
  await dialog.getByRole("button", { name: "Make the link" }).click();
  const address = await dialog.locator("code[data-address]").nth(1).textContent();

  const guest = await browserOf(browser, "");
  await guest.goto(address ?? "");
  await guest.getByRole("button", { name: "Open it" }).click();
  await guest.getByLabel("Password").fill("larks");
  await guest.getByRole("button", { name: "Open it" }).click();
  await expect(guest.getByRole("alert")).toContainText("The password is wrong.");
  await guest.getByLabel("Password").fill("owls");
  await guest.getByRole("button", { name: "Open it" }).click();
  await expect(guest.getByText("Close the gate")).toBeVisible();
  await accessible(guest);
  await guest.getByLabel("Your name").fill("Pat Orchard");
  await guest.getByLabel("About").selectOption({ label: "Step 1" });
  await guest.getByLabel("What is wrong, or missing").fill("Which gate?");
  await guest.getByRole("button", { name: "Send" }).click();
  await expect(guest.getByText("Thank you. It is sent.")).toBeVisible();
  expect((await guest.request.get(`/api/documents/${id}`)).status()).toBe(401);

  await dialog.getByRole("button", { name: "Revoke the link for Night shift" }).click();
  await expect(guest.getByRole("heading", { name: /^This link is not valid, or not any more/ })).toBeVisible();
  await expect(guest.getByText("Close the gate")).toBeHidden();
  await dialog.getByRole("button", { name: "Close" }).click();
  await expect(page.getByRole("region", { name: "Comment by Pat Orchard (by a link)" })).toContainText("Which gate?");
  await guest.context().close();
});

test("two people write: each is seen where they are, and a step is taken over only after a question", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Together ${Date.now()}`, [{ words: "One" }, { words: "Two" }]);
  const tomasz = await browserOf(browser, "tomasz");
  await openManuscript(page, id);
  await openManuscript(tomasz, id);
  await expect(page.getByRole("status", { name: "Also here: Tomasz Ferrow" })).toBeVisible();
  await words(tomasz, 2).click();
  await tomasz.keyboard.type("Then ");
  await expect(page.getByText("Tomasz Ferrow is writing")).toBeVisible();
  await expect(words(page, 2)).toContainText("Then");
  await accessible(page);

  await words(page, 2).click();
  const asked = page.getByRole("dialog", { name: "Tomasz Ferrow is writing step 2" });
  await asked.getByRole("button", { name: "Wait" }).click();
  await expect(tomasz.locator(".ProseMirror-focused")).toBeVisible();
  await words(page, 2).click();
  await asked.getByRole("button", { name: "Take over" }).click();
  await expect(notices(tomasz).getByText("Ines Brackwater has taken this step over.")).toBeVisible();
  await expect(tomasz.locator(".ProseMirror-focused")).toBeHidden();
  await expect(tomasz.getByText("Ines Brackwater is writing")).toBeVisible();
  await tomasz.context().close();
  await expect(page.getByRole("status", { name: "Also here: Tomasz Ferrow" })).toBeHidden();
});
