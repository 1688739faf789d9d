import { expect, test } from "@playwright/test";
import { accessible, makeDocument, signIn } from "./support";

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
