import { expect, test } from "@playwright/test";
import { job } from "./jobs";
import { accessible, copy, drag, leaves, notices, png, saved, signIn } from "./support";

const screen = png(800, 450, (x, y) => (x > 500 && y > 300 ? [200, 230, 240] : [240, 240, 236]));

test("someone without an account asks with a marked picture, is answered with another, and says more", async ({
  page,
  browser,
}) => {
  await signIn(page);
  const stock = `Greeting${Date.now()}`;
  const words = {
    type: "doc",
    content: [{ type: "paragraph", content: [{ type: "text", text: "Dear {name}, thank you. It is about {lot}." }] }],
  };
  await page.request.post("/api/documents", {
    data: { title: stock, kind: "answer", blocks: [{ type: "passage", words, figures: [] }] },
  });
  await page.goto("/reports?kind=inbox");
  await page.getByRole("link", { name: "Open or close doors" }).click();
  await page.getByRole("button", { name: "Open a door" }).click();
  const dialog = page.getByRole("dialog", { name: "Open a door" });
  const name = `Dock hands ${Date.now()}`;
  await dialog.getByLabel("Whom is it for?").fill(name);
  await dialog.getByRole("button", { name: "Open it" }).click();
  const address = new URL(await page.getByRole("status").locator("code").innerText());
  await accessible(page);
  await page.goto("/reports?kind=inbox");

  // One page: a picture, a mark, a line, and send.
  const asker = await (await browser.newContext()).newPage();
  leaves(asker);
  await asker.goto(address.pathname);
  await expect(asker.getByRole("heading", { name: `Ask for help: ${name}` })).toBeVisible();
  await asker.getByLabel("Add a picture").setInputFiles({ name: "blank.png", mimeType: "image/png", buffer: screen });
  await asker.getByRole("button", { name: "Mark it: picture 1" }).click();
  await expect(asker.getByRole("application")).toBeVisible();
  await asker.keyboard.press("w");
  await drag(asker, [0.62, 0.66], [0.95, 0.95]);
  await accessible(asker);
  await asker.getByRole("button", { name: "Done" }).click();
  const wrong = `The labels come out blank ${Date.now()}`;
  await asker.getByLabel("What goes wrong").fill(wrong);
  await asker.getByLabel("Your name").fill("Ruta Mercer <b>");
  await accessible(asker);
  await asker.getByRole("button", { name: "Send" }).click();
  const follow = asker.getByRole("link", { name: /\/s\// });
  await expect(follow).toBeVisible();
  const followed = new URL((await follow.getAttribute("href")) ?? "");
  await asker.reload();
  await expect(asker.getByRole("link", { name: followed.pathname })).toBeVisible();
  await expect(asker.getByText(wrong)).toBeVisible();

  // It is in the inbox at once; whoever takes it answers in place.
  const row = page.getByRole("listitem").filter({ hasText: wrong });
  await expect(row).toContainText("New");
  await row.getByRole("link").click();
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(page.getByText(/Ruta Mercer <b> asks/)).toContainText("Taken by Ines Brackwater");
  await expect(page.getByRole("button", { name: /Mark the picture of “What goes wrong”/ })).toBeVisible();
  const answer = page.getByRole("group", { name: /“Answer”/ });
  await answer.click();
  await expect(page.getByRole("textbox", { name: /“Answer”/ })).toBeFocused();
  await page.keyboard.type("Open the lid and put the roll in the other way round.");
  await page.keyboard.press("Escape");
  const answering = job("request answered with a stock answer");
  await answering.act(() => page.getByRole("button", { name: "Use a stock answer" }).click());
  await answering.act(() => page.getByRole("dialog").getByRole("textbox").fill(stock));
  await answering.act(() =>
    page
      .getByRole("dialog")
      .getByRole("button", { name: new RegExp(stock) })
      .click(),
  );
  // Every place is asked for, and seen filled in; it is written under the answer.
  const filling = page.getByRole("dialog", { name: /Answer with/ });
  await expect(filling.getByLabel("name")).toHaveValue("Ruta Mercer <b>");
  await expect(filling).toContainText("Dear Ruta Mercer <b>, thank you.");
  const put = filling.getByRole("button", { name: "Put it under Answer" });
  await expect(put).toBeDisabled();
  await put.click({ force: true }); // a dim button says why it is dim
  await expect(notices(page).getByText("Fill in: lot.")).toBeVisible();
  await answering.act(() => filling.getByLabel("lot").fill("L-77"));
  await answering.act(() => filling.getByRole("button", { name: "Put it under Answer" }).click());
  await expect(notices(page).getByText("It stands under Answer.")).toBeVisible();
  await expect(page.getByRole("group", { name: /“Answer”/ })).toContainText(
    "Dear Ruta Mercer <b>, thank you. It is about L-77.",
  );
  // So is a picture that is pasted.
  await copy(
    page,
    png(80, 60, () => [30, 90, 160]),
  );
  await page.keyboard.press("Control+v");
  await expect(page.getByRole("button", { name: /Mark the picture of “Answer”/ })).toBeVisible();
  await saved(page);
  await answering.act(() => page.getByRole("button", { name: "It is answered" }).click());
  await expect(page.getByText(/asks/)).toContainText("Answered by Ines Brackwater");
  answering.done();

  // The asker sees it, with the picture as it was marked, and says more.
  await asker.goto(followed.pathname);
  await asker.getByRole("button", { name: "Open it" }).click();
  await expect(asker.getByText("put the roll in the other way round")).toBeVisible();
  await expect(asker.getByText("Dear Ruta Mercer <b>, thank you. It is about L-77.")).toBeVisible();
  await expect(asker.getByText("Nobody has answered yet")).toHaveCount(0);
  const shown = asker
    .getByRole("button", { name: /Open the picture large/ })
    .first()
    .locator("img");
  await expect(shown).toBeVisible();
  await accessible(asker);
  await asker.getByLabel("Your name").fill("Ruta Mercer");
  await asker.getByLabel("What you want to add").fill("It works, thank you");
  await asker.getByRole("button", { name: "Send" }).click();
  await expect(asker.getByRole("region", { name: "What was said" })).toContainText("It works, thank you");
  await expect(page.getByRole("complementary", { name: "Remarks" })).toContainText("It works, thank you");
  await expect(page.getByText(/asks/)).toContainText("Taken by Ines Brackwater"); // it is theirs again
  await page.getByRole("button", { name: "Close", exact: true }).click();

  // A closed door lets nobody in.
  await page.goto("/setup/doors");
  await page.getByRole("button", { name: `Close the door ${name}` }).click();
  await asker.goto(address.pathname);
  await expect(asker.getByText("This door is closed")).toBeVisible();
  await asker.context().close();
});

test("a stock answer with a fresh picture: six actions", async ({ page }) => {
  await signIn(page);
  const key = `roll${Date.now()}`;
  const marked = png(600, 400, (x, y) =>
    x > 100 && x < 160 && y > 100 && y < 130 ? [20, 90, (x * y) % 255] : [235, 238, 240],
  );
  const shot = `answer-${Date.now()}`;
  await page.request.put(`/api/shots/${shot}?name=a.png`, {
    data: marked,
    headers: { "Content-Type": "application/octet-stream" },
  });
  const made = (await (
    await page.request.post("/api/documents", {
      data: {
        title: `Turn the ${key}`,
        kind: "answer",
        blocks: [
          {
            type: "step",
            words: {
              type: "doc",
              content: [{ type: "paragraph", content: [{ type: "text", text: "Dear {name}, turn the roll." }] }],
            },
            figures: [
              {
                id: "f",
                shot,
                alt: "",
                marks: [
                  {
                    id: "m",
                    kind: "box",
                    points: [
                      { x: 95, y: 95 },
                      { x: 165, y: 135 },
                    ],
                    ink: "red",
                    weight: "medium",
                  },
                ],
              },
            ],
          },
        ],
      },
    })
  ).json()) as { id: string };
  await page.goto("/reports");
  const { act, done } = job("stock answer with a fresh picture");
  await act(() => page.getByRole("radio", { name: "Stock answers" }).click());
  await act(() => page.getByRole("searchbox").fill(key.slice(0, -2)));
  await act(() => page.getByRole("button", { name: `Use Turn the ${key}` }).click());
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByText("Dear {name}, turn the roll.")).toBeVisible();
  await accessible(page);
  // The same thing, moved by 200 and 120.
  const fresh = png(600, 400, (x, y) =>
    x > 300 && x < 360 && y > 220 && y < 250 ? [20, 90, ((x - 200) * (y - 120)) % 255] : [235, 238, 240],
  );
  await copy(page, fresh);
  await act(() => page.keyboard.press("Control+v"));
  await expect(dialog.getByText(/The picture is fresh/)).toBeVisible();
  await act(() => dialog.getByLabel("name").fill("Ruta"));
  await act(() => dialog.getByRole("button", { name: "Copy with pictures" }).click());
  await expect(notices(page).getByText("The answer is on the clipboard.")).toBeVisible();
  done();
  const html = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read();
    return (await item?.getType("text/html"))?.text();
  });
  expect(html).toContain("Dear Ruta, turn the roll.");
  expect(html).toMatch(/<img[^>]+data:image/);
  expect(html).not.toContain(`Turn the ${key}`); // its title is for those who look for it
  const now = (await (await page.request.get(`/api/documents/${made.id}`)).json()) as {
    blocks: { content: { figures: { marks: { points: { x: number }[] }[] }[] } }[];
  };
  await expect(page.getByRole("listitem").filter({ hasText: key })).toContainText("used once");
  expect(now.blocks[0]?.content.figures[0]?.marks[0]?.points[0]?.x).toBeGreaterThan(280); // its mark went along
});
