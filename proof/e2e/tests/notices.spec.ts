import { expect, test } from "@playwright/test";
import { accessible, makeDocument, onServer, openManuscript, saved, signIn } from "./support";

test("a notice stands before its step, in words and form; the title bears the worst; what is missing must be fixed", async ({
  page,
}) => {
  await signIn(page);
  const { id } = await makeDocument(page.request, "Open the valve", [{ words: "Turn the wheel" }, { words: "Wait" }]);
  await openManuscript(page, id);
  await page.getByRole("button", { name: "Warn before the whole document" }).click();
  await page.getByLabel("How bad it may end, the document").selectOption("caution");
  await page.getByLabel("What the hazard is, the document").fill("The room is cold.");
  await page.getByLabel("How to avoid it, the document").fill("Wear gloves.");
  await page.getByRole("button", { name: "Actions for step 1" }).click();
  await page.getByRole("menuitem", { name: "Warn before this step" }).click();
  await page.getByLabel("How bad it may end, step 1").selectOption("danger");
  await page.getByLabel("What the hazard is, step 1").fill("Ammonia is poisonous.");
  await page.getByLabel("What may follow, step 1").fill("It burns the lungs.");
  await expect(page.getByText("Step 1’s danger does not say what the hazard is, or how to avoid it")).toBeVisible();
  await expect(page.getByRole("button", { name: "Release", exact: true })).toBeDisabled();
  await page.getByLabel("How to avoid it, step 1").fill("Wear the mask.");
  await expect(page.getByRole("button", { name: "Release", exact: true })).toBeEnabled();
  await accessible(page);

  // The whole takes 10 minutes, as the author says; a reader is told how much is left.
  await page.getByLabel("Time that the whole takes").fill("10 min");
  await page.getByLabel("Time that the whole takes").press("Enter");
  await page.getByLabel("Time that step 1 takes").fill("2:00");
  await page.getByLabel("Time that step 1 takes").press("Enter");
  await page.getByLabel("Time that step 2 takes").fill("30");
  await page.getByLabel("Time that step 2 takes").press("Enter");
  await saved(page);
  const whole = (await onServer(page, id)) as unknown as { facts: unknown; signal: string };
  expect(whole.signal).toBe("danger");
  expect(whole.facts).toMatchObject({ seconds: 600, notice: { signal: "caution", hazard: "The room is cold." } });

  await page.goto(`/d/${id}`);
  await expect(page.getByText("DANGER")).toHaveCount(2); // with the title, and before its step
  await expect(page.getByText("2 steps, about 10 min.")).toBeVisible();
  const note = page.getByRole("note", { name: "danger" });
  await expect(note).toHaveText(/Ammonia is poisonous\.\s*It burns the lungs\.\s*Wear the mask\./);
  const [above, below] = [await note.boundingBox(), await page.getByText("Turn the wheel").boundingBox()];
  expect((above?.y ?? 0) + (above?.height ?? 0)).toBeLessThan(below?.y ?? 0);
  await accessible(page);
  await page.getByRole("button", { name: "Follow one step at a time" }).click();
  await expect(page.getByRole("note", { name: "danger" })).toBeVisible();
  await expect(page.getByText("about 10 min left")).toBeVisible();
  await page.getByRole("button", { name: "Next" }).click();
  await expect(page.getByText("about 2 min left")).toBeVisible();
  // What was done is ticked, and whoever comes back goes on where they were.
  await page.goto(`/d/${id}`);
  await expect(page.getByRole("checkbox", { name: "Step 1 is done" })).toBeChecked();
  await expect(page.getByRole("checkbox", { name: "Step 2 is done" })).not.toBeChecked();
  await page.getByRole("button", { name: "Go on at step 2" }).click();
  await expect(page.getByRole("heading", { name: "Step 2 of 2" })).toBeVisible();
  await page.getByRole("button", { name: "Done" }).click();
  await expect(page.getByRole("checkbox", { name: "Step 2 is done" })).toBeChecked();
  await accessible(page);
  await page.getByRole("button", { name: "Begin anew" }).click();
  await expect(page.getByRole("checkbox", { name: "Step 1 is done" })).not.toBeChecked();
  await page.goto(`/d/${id}/pages`);
  await expect(page.getByText("Ammonia is poisonous.").first()).toBeAttached();
});
