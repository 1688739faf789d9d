import { expect, test } from "@playwright/test";
import { accessible, choose, makeDocument, signIn } from "./support";

test("what is set up has a place each, which is found by a word and opened by its address", async ({ page }) => {
  await signIn(page, "admin");
  await page.goto("/setup");
  const places = page.getByRole("navigation", { name: "Setting up" });
  await expect(places.getByRole("link")).toHaveCount(11);
  const names = await places.getByRole("link").allInnerTexts();
  for (const name of names) {
    await places.getByRole("link", { name, exact: true }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(name);
    await accessible(page);
    await page.reload();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(name);
  }
  await page.getByLabel("Find in Setup").fill("nowhere at all");
  await expect(places.getByRole("link")).toHaveCount(0);
  await expect(places.getByRole("status")).toHaveText("Nothing here is called so.");
});

test("a document’s title stands whole over its views, and what is done with it below", async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await signIn(page);
  const title = `Receive a lot of pears into a cold room ${Date.now()}`;
  const { id } = await makeDocument(page.request, title, [{ words: "Scan the card" }]);
  for (const view of ["write", "film", "pages", ""]) {
    await page.goto(`/d/${id}/${view}`);
    const heading = page.getByRole("banner").getByText(title);
    await expect(heading).toBeVisible();
    expect(await heading.evaluate((e) => e.scrollWidth - e.clientWidth)).toBeLessThanOrEqual(0);
  }
});

test("who answers for a document is chosen among people; a name from elsewhere stays until then", async ({ page }) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, `Answered for ${Date.now()}`, [{ words: "Scan the card" }]);
  const facts = async () =>
    ((await (await page.request.get(`/api/documents/${id}`)).json()) as { facts: object }).facts;
  await page.goto(`/d/${id}/write`);
  await page.getByRole("button", { name: "About this document" }).click();
  const about = page.getByRole("dialog", { name: "About this document" });
  await expect(about.getByRole("textbox", { name: "Owner" })).toHaveCount(0);
  await choose(about, "Owner", "Tomasz Ferrow");
  await choose(about, "Approver", "Adaeze Quillan");
  await accessible(page);
  await about.getByRole("button", { name: "Done" }).click();
  await expect.poll(facts).toMatchObject({ owner: "Tomasz Ferrow", approver: "Adaeze Quillan" });
});
