import { expect, type Page, test } from "@playwright/test";
import { job } from "./jobs";
import { randomUUID } from "node:crypto";
import { openCapture, startPractice } from "./capturing";
import {
  accessible,
  choose,
  grey,
  makeDocument,
  notices,
  openManuscript,
  order,
  saved,
  signIn,
  steps,
} from "./support";

/** A session of plain shots, through the API. */
async function makeSession(page: Page, name: string, pictures: Buffer[], about: object[] = []) {
  const id = randomUUID();
  await page.request.put(`/api/captures/${id}`, { data: { name } });
  for (const [i, buffer] of pictures.entries()) {
    const answer = await page.request.put(`/api/captures/${id}/shots/${randomUUID()}`, {
      multipart: {
        about: JSON.stringify({ taken: new Date(Date.now() + i * 1000).toISOString(), source: "screen", ...about[i] }),
        name: `${name} ${i + 1}.png`,
        picture: { name: "shot.png", mimeType: "image/png", buffer },
      },
    });
    expect(answer.ok(), await answer.text()).toBe(true);
  }
  return id;
}

const cell = (page: Page, n: number) => page.getByRole("button", { name: new RegExp(`^Shot ${n}, `) });

test.beforeEach(({ page }) => signIn(page));

test("shots are sorted, compared, made even, and placed after a step that was chosen", async ({ page }) => {
  const name = `Sheet ${Date.now()}`;
  const click = (what: string) => ({
    action: { kind: "click", element: { name: what, role: "button", rect: { x: 50, y: 50, w: 80, h: 30 } } },
  });
  const session = await makeSession(
    page,
    name,
    [grey(10), grey(60), grey(110, 790, 450), grey(160)],
    [click("One"), click("Two"), click("Three"), click("Four")],
  );
  await makeDocument(page.request, `Into ${name}`, [{ words: "First." }, { words: "Last." }]);
  await page.goto(`/capture/${session}`);
  await expect(cell(page, 4)).toBeVisible();
  await expect(page.getByText("2 shots are a little larger or smaller")).toBeVisible();
  await page.getByRole("button", { name: "Make them even" }).click();
  await expect(page.getByText("a little larger or smaller")).toBeHidden();

  await cell(page, 2).focus();
  const kept = page.waitForResponse((r) => r.url().endsWith("/order") && r.ok());
  await page.keyboard.press("Alt+ArrowLeft");
  await expect(cell(page, 1)).toHaveAccessibleName("Shot 1, Press Two");
  await kept;
  await page.reload();
  await expect(cell(page, 1)).toHaveAccessibleName("Shot 1, Press Two");

  await cell(page, 1).click();
  await cell(page, 3).click();
  await page.getByRole("button", { name: "Compare the two" }).click();
  const both = page.getByRole("dialog");
  await expect(both.getByRole("img")).toHaveCount(2);
  await accessible(page);
  await both.getByRole("button", { name: "One after the other" }).click();
  await expect(both.getByRole("img")).toHaveCount(1);
  const shown = await both.getByRole("img").getAttribute("src");
  await expect(both.getByRole("img")).not.toHaveAttribute("src", shown ?? "");
  await both.getByRole("button", { name: "Close" }).click();

  await page.getByRole("button", { name: "Place 2 as steps" }).click();
  await choose(page.getByRole("dialog"), "In", `Into ${name}`);
  await page.getByLabel(/After step/).fill("1");
  await page.getByRole("button", { name: "Place", exact: true }).click();
  await expect(steps(page)).toHaveCount(4);
  expect(await order(page)).toEqual(["First", "Press Two", "Press Three", "Last"]);
  await saved(page);
  await page.goto(`/capture/${session}`);
  await expect(page.getByText("placed", { exact: true })).toHaveCount(2);
});

test("shots to place lie beside the manuscript: Enter, a click and a drag place one, and undo brings it back", async ({
  page,
}) => {
  const name = `Unplaced ${Date.now()}`;
  await makeSession(
    page,
    name,
    [grey(33)],
    [{ action: { kind: "shortcut", text: name }, window: { title: name, rect: { x: 0, y: 0, w: 9, h: 9 } } }],
  );
  const { id } = await makeDocument(page.request, name, [{ words: "First." }]);
  await openManuscript(page, id);
  const shot = page.getByRole("region", { name: "To place" }).getByRole("button", { name: `“Press ${name}”` });
  await shot.focus();
  await page.keyboard.press("Enter");
  await expect(steps(page)).toHaveCount(2);
  expect(await order(page)).toEqual(["First", `Press ${name}`]);
  await expect(shot).toHaveCount(0);
  await accessible(page);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(steps(page)).toHaveCount(1);
  const { act, done } = job("shot to place");
  await act(() => shot.click());
  await expect(steps(page)).toHaveCount(2);
  done();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(shot).toBeVisible();

  const from = await shot.boundingBox();
  const to = await steps(page).first().boundingBox();
  if (!from || !to) throw new Error("nothing to drag");
  await page.mouse.move(from.x + 30, from.y + 20);
  await page.mouse.down();
  await page.mouse.move(from.x + 60, from.y + 10, { steps: 4 });
  await page.mouse.move(to.x + 300, to.y - 20, { steps: 12 });
  await page.mouse.up();
  await expect(steps(page)).toHaveCount(2);
  expect(await order(page)).toEqual([`Press ${name}`, "First"]);
});

test("shots are found again, marked without a document, and one that is used nowhere can be deleted", async ({
  page,
}) => {
  const name = `Find ${Date.now()}`;
  await makeSession(page, name, [grey(44, 3200, 400)], [{ window: { title: name, rect: { x: 0, y: 0, w: 9, h: 9 } } }]);
  await page.goto("/capture/shots");
  await page.getByLabel("Window", { exact: true }).fill(name);
  await expect(page.getByRole("list", { name: "Shots" }).getByRole("listitem")).toHaveCount(1);
  await accessible(page);
  await page.getByRole("list", { name: "Shots" }).getByRole("link").first().click();
  await expect(page.getByText(/its usual text will print at [\d.]+ points/)).toBeVisible();
  await page.getByRole("button", { name: /Add a copy \d+ pixels wide/ }).click();
  await expect(notices(page).getByText(/A copy 1600 × 200 pixels large lies next to it/)).toBeVisible();
  const live = await page.getByRole("application").boundingBox();
  if (!live) throw new Error("no picture");
  await page.keyboard.press("w");
  await page.mouse.move(live.x + 200, live.y + 20);
  await page.mouse.down();
  await page.mouse.move(live.x + 400, live.y + 60, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByRole("listitem").getByRole("button", { name: "Box", exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("listitem").getByRole("button", { name: "Box", exact: true })).toBeVisible(); // still there
  await page.goto("/capture/shots");
  await page.getByLabel("Window", { exact: true }).fill(name);
  await expect(page.getByRole("list", { name: "Shots" }).getByRole("listitem")).toHaveCount(2);
  await page.getByRole("button", { name: "Show those used nowhere" }).click();
  await page.getByRole("button", { name: "Choose these" }).click();
  await page.getByRole("button", { name: "Delete 2 shots" }).click();
  await expect(page.getByText("No shot fits what you ask for.")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("list", { name: "Shots" }).getByRole("listitem")).toHaveCount(2);
});

test("a small control stays on top and takes, with its own keys", async ({ page, context }) => {
  await openCapture(page, { what: "monitor", pattern: "{n}" });
  await startPractice(page);
  const opened = context.waitForEvent("page");
  await page.getByRole("button", { name: "Small control" }).click();
  const control = await opened;
  await expect(control.getByRole("button", { name: "Take" })).toBeVisible();
  await control.getByRole("button", { name: "Take" }).click();
  await expect(control.getByText("1", { exact: true })).toBeVisible();
  await control.keyboard.press("t");
  await expect(page.locator("[data-shot]")).toHaveCount(2);
  await control.getByRole("button", { name: "Pause" }).click();
  await expect(page.getByRole("button", { name: /^Go on/ })).toBeVisible();
  await control.getByRole("button", { name: "Stop" }).click();
  await expect(page.getByRole("button", { name: "Start the workstation" })).toBeVisible();
});
