import { expect, test } from "@playwright/test";
import { choose, accessible, makeDocument, onServer, openManuscript, saved, signIn, steps } from "./support";

const outlineOf = (page: import("@playwright/test").Page) =>
  page.getByRole("navigation", { name: "Steps" }).getByRole("button");

test("sections: headings, counting, folding, moving with their steps; readers see them, with the time it takes", async ({
  page,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "In sections", [
    { words: "Open the door" },
    { words: "Read the card" },
    { words: "Print the label" },
  ]);
  await openManuscript(page, id);
  const begin = async (number: number, heading: string, section: string) => {
    await page.getByRole("button", { name: `Actions for step ${number}` }).click();
    await page.getByRole("menuitem", { name: "Begin a section here" }).click();
    await page.getByLabel(`Heading of section ${section}`).fill(heading);
  };
  await begin(3, "After", "1");
  await begin(1, "Before", "1");
  await expect(outlineOf(page)).toHaveText([/1\s*Before/, /1\s*Open/, /2\s*Read/, /2\s*After/, /3\s*Print/]);
  await accessible(page);
  await choose(page, "Steps are counted", "from 1 in each section");
  await expect(outlineOf(page)).toHaveText([/1\s*Before/, /1\s*Open/, /2\s*Read/, /2\s*After/, /1\s*Print/]);

  await page.getByRole("button", { name: "Hide what is in section 1" }).click();
  await expect(page.getByText("2 steps hidden")).toBeVisible();
  await expect(steps(page)).toHaveCount(3);
  await outlineOf(page).nth(1).click(); // a link into what is folded unfolds it
  await expect(steps(page)).toHaveCount(5);
  await expect(steps(page).locator(":focus")).toHaveCount(1);
  await page.getByLabel("Heading of section 2").press("Alt+ArrowUp");
  await expect(outlineOf(page)).toHaveText([/1\s*After/, /1\s*Print/, /2\s*Before/, /1\s*Open/, /2\s*Read/]);
  await page.getByRole("button", { name: "Actions for section 2" }).click();
  await page.getByRole("menuitem", { name: "Make it part of the section above" }).click();
  await expect(outlineOf(page).nth(2)).toHaveText(/1\.1\s*Before/);
  await page.getByLabel("Time that step 2 takes").fill("soon");
  await expect(page.getByLabel("Time that step 2 takes")).toHaveAttribute("aria-invalid", "true");
  await page.getByLabel("Time that step 2 takes").fill("1:10");
  await page.getByLabel("Time that step 2 takes").press("Enter");
  await expect(page.getByLabel("Time that step 2 takes")).toHaveValue("1 min 10 s");
  await saved(page);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+y");
  await saved(page);
  const { facts, blocks } = (await onServer(page, id)) as unknown as {
    facts: { counting: string };
    blocks: { content: { type: string; level?: number; seconds?: number } }[];
  };
  expect(facts.counting).toBe("section");
  expect(blocks.map(({ content: c }) => [c.type, c.level ?? 0, c.seconds ?? 0])).toEqual([
    ["section", 1, 0],
    ["step", 0, 0],
    ["section", 2, 0],
    ["step", 0, 0],
    ["step", 0, 70],
  ]);

  await page.goto(`/d/${id}`);
  await expect(page.getByRole("heading", { level: 2, name: "1 After" })).toBeVisible();
  await expect(page.getByRole("heading", { level: 3, name: "1.1 Before" })).toBeVisible();
  await expect(page.getByText("3 steps, at least 1 min 10 s.")).toBeVisible();
  await accessible(page);
  await page.getByRole("button", { name: "Follow one step at a time" }).click();
  await expect(page.getByText("After", { exact: true })).toBeVisible();
  await page.goto(`/d/${id}/pages`);
  await expect(page.getByText("Contents").first()).toBeAttached();
});
