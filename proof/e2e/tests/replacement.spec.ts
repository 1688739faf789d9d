import { randomUUID } from "node:crypto";
import { expect, test } from "@playwright/test";
import { figureOf, openPicture, screen } from "./figures";
import { accessible, drag, grey, group, onServer, saved, type StepSpec } from "./support";

test("a new shot replaces the old: marks go along, what is not found is said, undo brings all back", async ({
  page,
}) => {
  const id = await openPicture(page, "Updated", [{ words: "One", picture: screen() }]);
  await page.keyboard.press("w");
  await drag(page, [0.24, 0.27], [0.41, 0.385]);
  await page.keyboard.press("e");
  await drag(page, [0.7, 0.7], [0.85, 0.85]); // around nothing
  await page.keyboard.press("Escape");
  const before = await figureOf(page, id);
  const shot = crypto.randomUUID();
  await page.request.put(`/api/shots/${shot}?name=updated-${shot}.png`, {
    data: screen(310, 140),
    headers: { "Content-Type": "application/octet-stream" },
  });
  await group(page, "New shot");
  await page.getByRole("button", { name: "Replace the shot" }).click();
  await page
    .getByRole("dialog")
    .getByRole("button", { name: `updated-${shot}` })
    .click();
  await expect(page.getByText("1 of 2 marks have their place").first()).toBeVisible();
  await expect(page.getByText("1 mark was not found in the new shot.")).toBeVisible();
  const after = await figureOf(page, id);
  expect(after.shot).toBe(shot);
  expect((after.marks[0]?.points[0]?.x ?? 0) - (before.marks[0]?.points[0]?.x ?? 0)).toBeCloseTo(310, -1);
  expect(after.marks[1]).toMatchObject({ lost: true, points: before.marks[1]?.points });
  await page.getByRole("button", { name: "Before and after" }).click();
  await expect(page.getByRole("dialog").getByRole("img")).toHaveCount(2);
  await accessible(page);
  await page.getByRole("button", { name: "Close" }).last().click();
  await page.getByRole("button", { name: "Undo" }).click();
  expect(await figureOf(page, id)).toEqual(before);
});

test("a whole document is renewed: the next shot of the session is offered, what is left to look at is listed", async ({
  page,
}) => {
  const box = (x: number, y: number) => ({
    id: randomUUID(),
    kind: "box",
    ink: "red",
    weight: "medium",
    points: [
      { x, y },
      { x: x + 200, y: y + 80 },
    ],
  });
  const steps: StepSpec[] = [
    { words: "One", picture: screen(), marks: [box(290, 190)] },
    { words: "Words only" },
    { words: "Two", picture: screen(100, 60), marks: [box(390, 250)] },
    { words: "Three", picture: screen(200, 90), marks: [box(490, 280)] },
  ];
  const id = await openPicture(page, "Renewed", steps);
  await page.getByRole("button", { name: "Close the picture" }).click();
  // A session with a new shot for each picture; in the last nothing is where it was.
  const session = randomUUID();
  await page.request.put(`/api/captures/${session}`, { data: { name: `Update ${session}` } });
  const shots = [screen(250, 140), screen(350, 200), grey(235, 1200, 700)].map((data) => ({ id: randomUUID(), data }));
  for (const [i, shot] of shots.entries()) {
    const put = await page.request.put(`/api/captures/${session}/shots/${shot.id}`, {
      multipart: {
        about: JSON.stringify({ taken: new Date().toISOString(), source: "file" }),
        name: `${session}-${i}.png`,
        picture: { name: "p.png", mimeType: "image/png", buffer: shot.data },
      },
    });
    expect(put.ok(), await put.text()).toBe(true);
  }
  await page.getByRole("button", { name: "Replace the pictures" }).click();
  const walk = page.getByRole("region", { name: "New shot" });
  await expect(walk.getByText("Picture 1 of 3; none has a new shot yet.")).toBeVisible();
  await accessible(page);
  await walk.getByRole("button", { name: "Replace the shot" }).click();
  await page
    .getByRole("dialog")
    .getByRole("button", { name: `${session}-0` })
    .click();
  await expect(walk.getByText("1 has a new shot.")).toBeVisible();
  for (const n of [2, 3]) {
    await walk.getByRole("button", { name: "Next picture" }).click();
    await walk.getByRole("button", { name: `Use the next shot: ${session}-${n - 1}` }).click();
    await expect(walk.getByText(`Picture ${n} of 3; ${n} have a new shot.`)).toBeVisible();
  }
  await expect(walk.getByRole("button", { name: "Next picture" })).toBeDisabled();
  await expect(walk.getByText("1 mark was not found in the new shot.")).toBeVisible();
  await expect(walk.getByRole("button", { name: "the picture of step 4" })).toBeVisible();
  await saved(page);
  const figures = (await onServer(page, id)).blocks.flatMap((s) => s.content.figures);
  expect(figures.map((f) => f.shot)).toEqual(shots.map((s) => s.id));
  expect(figures[0]?.marks[0]?.points[0]?.x).toBeCloseTo(540, -1);
  expect(figures[1]?.marks[0]?.points[0]?.y).toBeCloseTo(390, -1);

  // Back at the first, what was there before can still be compared.
  await walk.getByRole("button", { name: "Previous picture" }).click();
  await walk.getByRole("button", { name: "Previous picture" }).click();
  await walk.getByRole("button", { name: "Before and after" }).click();
  await expect(page.getByRole("dialog").getByAltText("Before")).toBeVisible();
  await page.keyboard.press("Escape");
  await walk.getByRole("button", { name: "End" }).click();
  await expect(walk.getByText(/Picture 1 of 3/)).toHaveCount(0);
});
