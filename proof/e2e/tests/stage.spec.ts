import { expect, type Page, test } from "@playwright/test";
import { accessible, drag, grey, group, makeDocument, onServer, openManuscript, saved, signIn } from "./support";

const marks = async (page: Page, id: string) => (await onServer(page, id)).blocks[0]?.content.figures[0]?.marks ?? [];

async function openPicture(page: Page, steps = 1) {
  await signIn(page);
  const made = await makeDocument(
    page.request,
    "Stage",
    Array.from({ length: steps }, (_, i) => ({ words: `Step ${i}`, picture: grey(230 - i, 1600, 900) })),
  );
  await openManuscript(page, made.id);
  await page.getByRole("button", { name: "Mark the picture of step 1" }).click();
  await expect(page.getByRole("application")).toBeVisible();
  return made;
}

test("marks are drawn with the pad's keys, moved, reshaped, nudged, restyled, ordered and deleted", async ({
  page,
}) => {
  const { id } = await openPicture(page);
  expect((await page.getByRole("application").boundingBox())?.width).toBeGreaterThanOrEqual(1000);
  await page.keyboard.press("q");
  await drag(page, [0.1, 0.1], [0.3, 0.3]);
  await page.keyboard.press("w");
  await drag(page, [0.4, 0.4], [0.6, 0.6]);
  await page.keyboard.press("Shift+S");
  await drag(page, [0.7, 0.2], [0.7, 0.2]);
  await drag(page, [0.8, 0.2], [0.8, 0.2]);
  await page.keyboard.press("Escape");
  await page.keyboard.press("a");
  await drag(page, [0.1, 0.7], [0.4, 0.7]);
  await page.keyboard.type("Wait for it");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Text, Wait for it" })).toBeVisible();
  await accessible(page);
  await saved(page);
  let kept = await marks(page, id);
  expect(kept.map((m) => m.kind)).toEqual(["arrow", "box", "marker", "marker", "text"]);
  expect(kept[0]?.points[1]?.x).toBeCloseTo(480, -1);
  expect(kept[0]?.points[1]?.y).toBeCloseTo(270, -1);

  await page.getByRole("button", { name: "Box", exact: true }).click();
  await drag(page, [0.4, 0.5], [0.5, 0.5]); // its left side is off the corner grips but on the west grip
  await saved(page);
  kept = await marks(page, id);
  expect(kept[1]?.points[0]?.x).toBeCloseTo(800, -1);
  expect(kept[1]?.points[1]?.x).toBeCloseTo(960, -1);

  await page.getByRole("application").focus();
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("ArrowDown");
  await page.getByRole("button", { name: "blue" }).click();
  await page.getByRole("radio", { name: "Strong" }).click();
  await page.getByRole("button", { name: "Bring forward" }).click();
  await saved(page);
  kept = await marks(page, id);
  expect(kept[2]).toMatchObject({ kind: "box", ink: "blue", weight: "strong" });
  expect(kept[2]?.points[0]?.x).toBeCloseTo(810, -1);

  await drag(page, [0.2, 0.2], [0.25, 0.4]); // the arrow's shaft
  await saved(page);
  expect((await marks(page, id))[0]?.points[0]?.y).toBeCloseTo(270, -1);
  await page.getByRole("button", { name: "Marker 1" }).click();
  await page.getByRole("application").focus();
  await page.keyboard.press("Delete");
  await expect(page.getByRole("button", { name: /^Marker/ })).toHaveText(["Marker 1"]);
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: /^Marker \d/ })).toHaveCount(2);
});

test("without a mouse: choose, place, move, reshape, crop", async ({ page }) => {
  const { id } = await openPicture(page);
  await page.getByRole("application").focus();
  await page.keyboard.press("q");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Alt+Shift+ArrowRight");
  await saved(page);
  const [arrow] = await marks(page, id);
  expect(arrow?.points[1]).toEqual({ x: 810, y: 450 });
  await page.keyboard.press("Escape");
  await page.keyboard.press("c");
  for (let i = 0; i < 20; i++) await page.keyboard.press("Alt+Shift+ArrowLeft");
  await page.keyboard.press("Enter");
  await group(page, "Picture");
  await expect(page.getByText("1400 by 900 of 1600 by 900")).toBeVisible();
});

test("a crop shows a part and the whole shot comes back; the shot itself never changes", async ({ page }) => {
  const { id } = await openPicture(page);
  const shot = (await onServer(page, id)).blocks[0]?.content.figures[0]?.shot;
  const before = await (await page.request.get(`/api/shots/${shot}`)).body();
  await page.keyboard.press("c");
  await drag(page, [0.998, 0.998], [0.5, 0.5]);
  await page.getByRole("button", { name: "Crop", exact: true }).click();
  await group(page, "Picture");
  await expect(page.getByText("800 by 450 of 1600 by 900")).toBeVisible();
  await saved(page);
  const figure = (await onServer(page, id)).blocks[0]?.content.figures[0]?.id;
  const finished = await page.request.get(`/api/documents/${id}/figures/${figure}`);
  const size = (await finished.body()).subarray(16, 24);
  expect([size.readUInt32BE(0), size.readUInt32BE(4)]).toEqual([800, 450]);
  await group(page, "Picture");
  await page.getByRole("button", { name: "Back to the whole shot" }).click();
  await expect(page.getByText("Whole shot, 1600 by 900")).toBeVisible();
  await saved(page);
  expect((await onServer(page, id)).blocks[0]?.content.figures[0]?.crop).toBeUndefined();
  expect((await (await page.request.get(`/api/shots/${shot}`)).body()).equals(before)).toBe(true);
});

test("a mark is copied to another picture", async ({ page }) => {
  const { id } = await openPicture(page, 2);
  await page.keyboard.press("w");
  await drag(page, [0.2, 0.2], [0.4, 0.4]);
  await expect(page.getByRole("button", { name: "Box", exact: true })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("Control+c");
  await page.getByRole("button", { name: /Step 1$/ }).click();
  await expect(page.getByText("Nothing yet.")).toBeVisible();
  await page.keyboard.press("Control+v");
  await expect(page.getByRole("button", { name: "Box", exact: true })).toHaveCount(1);
  await saved(page);
  const [one, two] = (await onServer(page, id)).blocks.map((s) => s.content.figures[0]?.marks[0]);
  expect(two?.points).toEqual(one?.points);
  expect(two?.id).not.toBe(one?.id);
});

test("words are as wide in the core as in the browser, so that what is laid out by one fits the other", async ({
  page,
}) => {
  await signIn(page);
  await page.waitForFunction(() => "raconteCore" in globalThis);
  const far = await page.evaluate(async () => {
    const core = (globalThis as unknown as { raconteCore: (n: string, a: string) => string }).raconteCore;
    const samples = [
      "Receive a lot into a cold room",
      "AVATAR To. “Ty” fi fl",
      "Weiß, Zürich, Œuvre, Łódź",
      "0123456789 °C",
      "F8",
    ];
    const faces = [
      ["regular", "Raconte", 400, "normal"],
      ["bold", "Raconte", 700, "normal"],
      ["italic", "Raconte", 400, "italic"],
      ["bold-italic", "Raconte", 700, "italic"],
      ["mono", "Raconte Mono", 400, "normal"],
    ] as const;
    const svg = document.body.appendChild(document.createElementNS("http://www.w3.org/2000/svg", "svg"));
    const out: string[] = [];
    for (const [face, family, weight, style] of faces) {
      await document.fonts.load(`${style} ${weight} 40px "${family}"`);
      for (const text of samples) {
        const element = svg.appendChild(document.createElementNS("http://www.w3.org/2000/svg", "text"));
        for (const [name, value] of Object.entries({
          "font-family": family,
          "font-size": "40",
          "font-weight": `${weight}`,
          "font-style": style,
        }))
          element.setAttribute(name, value);
        element.textContent = text;
        const browser = element.getComputedTextLength();
        const ours = JSON.parse(core("width", JSON.stringify({ face, size: 40, text }))).ok as number;
        if (Math.abs(browser - ours) > 0.1) out.push(`${face} ${text}: ${browser} in the browser, ${ours} in the core`);
      }
    }
    return out;
  });
  expect(far).toEqual([]);
});
