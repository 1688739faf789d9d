import { expect, test } from "@playwright/test";
import { accessible, base } from "./support";
import {
  checkByCommand,
  colourAt,
  connect,
  line,
  record,
  type Recording,
  run,
  serve,
  type Shot,
  taken,
  withRecorder,
  writeUp,
} from "./recorder";

let r: Recording;
test.beforeAll(async () => {
  r = await withRecorder();
  await connect(r);
});
test.afterAll(() => r.end());

const acts = (shots: Shot[]) =>
  shots.map(({ about: { action: a } }) =>
    [a?.kind, a?.element?.role, a?.element?.name, a?.text].filter(Boolean).join(" "),
  );

test("a run on the practice page is seen to grow, and becomes a document with right sentences", async () => {
  const { page, panel, context } = r;
  const watching = await context.newPage();
  await watching.goto(`${base}/capture`);
  await expect(watching.getByRole("heading", { name: "Record in web pages" })).toBeVisible();
  await accessible(watching);
  await record(r, `${base}/practice`, async () => {
    await page.getByLabel("E-mail").click();
    await page.keyboard.type("ines@pellworth.example");
    await page.keyboard.press("Tab");
    await page.keyboard.type("planted-orchard-gate");
    await page.getByRole("button", { name: "Sign in" }).click();
    await page.getByLabel("Bins").click();
    await page.keyboard.type("18");
    await page.getByLabel("Organic").click();
    await page.getByRole("button", { name: "Receive lot" }).click();
    await page.getByRole("button", { name: "Yes, receive" }).click();
    await page.getByRole("tab", { name: "Rooms" }).click();
    await page.getByRole("row", { name: /Room 4/ }).click();
    await page.getByRole("tab", { name: "Alarms" }).click();
    await page.getByRole("switch", { name: "Siren" }).click();
  });
  const list = watching.getByRole("group", { name: "Shots in the order taken" });
  await expect(list.getByRole("listitem")).toHaveCount(12);
  await expect(list.getByRole("listitem").nth(2)).toHaveText(/Press Sign in\./);
  await watching.close();
  expect(JSON.stringify(await run(r))).not.toContain("planted");
  await page.goto(
    `${base}${new URL((await panel.getByRole("link", { name: "See the run" }).getAttribute("href")) ?? "").pathname}`,
  );
  await page.getByRole("button", { name: "Make a procedure" }).click();
  await expect(page.getByLabel("Title", { exact: true })).toHaveValue("Receive lot");
  const outline = page.getByRole("navigation", { name: "Steps" }).getByRole("button");
  await expect(outline).toHaveText([
    /1\s*Sign in to Lotroom/,
    /Type the e-mail address in E-mail/,
    /Type your password in Password/,
    /Press Sign in/,
    /2\s*Receiving/,
    /Type the number in Bins/,
    /Tick Organic/,
    /Press Receive lot/,
    /Press Yes, receive/,
    /Choose Rooms/,
    /3\s*Rooms/,
    /Choose Room 4/,
    /Choose Alarms/,
    /4\s*Alarms/,
    /Turn Siren off/,
    /You see the result/,
  ]);
  // Every picture shows less, and one undo brings all back.
  await page.getByRole("button", { name: "What the pictures show" }).click();
  await page.getByRole("menuitem", { name: "What was used and what is around it" }).click();
  await expect(page.getByRole("status").filter({ hasText: /^Saved \d\d:\d\d$/ })).toBeVisible();
  const id = page.url().split("/d/")[1]?.split("/")[0] ?? "";
  const crops = async () => {
    const { blocks } = (await (await page.request.get(`${base}/api/documents/${id}`)).json()) as {
      blocks: { content: { figures: { crop?: { w: number } }[] } }[];
    };
    return blocks.flatMap((b) => b.content.figures.map((f) => f.crop?.w ?? 0));
  };
  await expect.poll(async () => (await crops()).filter((w) => w > 0).length).toBe(11);
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await crops()).filter((w) => w > 0).length).toBe(0);
});

test("a run is started, paused and stopped from Capture, where it is seen to grow", async () => {
  const { page, context } = r;
  await page.goto(`${base}/practice`);
  const capture = await context.newPage();
  await capture.goto(`${base}/capture`);
  await capture.getByRole("button", { name: "Start recording" }).click();
  await expect(capture.getByRole("status").filter({ hasText: "Recording, 0 taken" })).toBeVisible();
  await page.bringToFront();
  await page.getByLabel("E-mail").click();
  await page.keyboard.type("ines@pellworth.example");
  await page.keyboard.press("Tab");
  await expect(capture.getByText("Recording, 1 taken")).toHaveCount(1);
  await capture.getByRole("button", { name: "Pause" }).dispatchEvent("click");
  await expect(capture.getByText("Paused, 1 taken")).toHaveCount(1);
  await page.keyboard.type("planted-orchard-gate");
  await page.getByRole("button", { name: "Sign in" }).click();
  await capture.getByRole("button", { name: "Go on" }).dispatchEvent("click");
  await expect(capture.getByText("Recording, 1 taken")).toHaveCount(1);
  await page.getByLabel("Organic").click();
  await expect(capture.getByText("Recording, 2 taken")).toHaveCount(1);
  await capture.getByRole("button", { name: "Stop" }).dispatchEvent("click");
  const list = capture.getByRole("group", { name: "Shots in the order taken" }).getByRole("listitem");
  await expect(list).toHaveText([/Type the e-mail/, /Tick Organic/, /You see the result/]);
  // Another site at the same host is given nothing and starts nothing.
  const other = await serve({ "/": "<title>Other</title>" });
  await capture.goto(other.address);
  const heard = await capture.evaluate(
    () =>
      new Promise((answered) => {
        addEventListener(
          "message",
          (e: MessageEvent<{ fromRecorder?: object }>) => e.data.fromRecorder && answered("told"),
        );
        for (const toRecorder of ["status", "start"]) postMessage({ toRecorder });
        setTimeout(() => answered("nothing"), 1500);
      }),
  );
  expect(heard).toBe("nothing");
  await expect(r.panel.locator("#going")).toBeHidden();
  other.server.close();
  await capture.close();
});

test("each picture shows the state before the act, whatever the page does at once, in frames and closed shadow roots", async () => {
  const { page } = r;
  const turns = (event: string, to: string) =>
    `on${event}="document.documentElement.firstElementChild;document.body.style.background='${to}'"`;
  const inner = await serve({
    "/": `<button style="margin:30px" onpointerdown="document.body.style.background='blue'">Inner</button><input type="password" style="position:absolute;left:20px;top:80px;width:120px;height:30px;border:0" value="planted">`,
  });
  const site = await serve({
    "/": `<title>Bad page</title>
      <button style="position:absolute;left:20px;top:20px;width:120px;height:40px" ${turns("pointerdown", "red")}>At pointerdown</button>
      <button style="position:absolute;left:20px;top:80px;width:120px;height:40px" ${turns("mousedown", "lime")}>At mousedown</button>
      <button style="position:absolute;left:20px;top:140px;width:120px;height:40px" onclick="location='/next'">Leaves</button>
      <div id="host" style="position:absolute;left:20px;top:200px"></div>
      <iframe src="${inner.address.replace("127.0.0.1", "localhost")}/" style="position:absolute;left:300px;top:200px;width:300px;height:200px;border:3px solid"></iframe>
      <script>const s=host.attachShadow({mode:'closed'});s.innerHTML='<button style="width:120px;height:40px">In the dark</button>';
      s.firstChild.onpointerdown=()=>document.body.style.background='yellow'</script>`,
    "/next": `<title>Next page</title><button style="margin:20px">Done here</button>`,
  });
  await record(
    r,
    site.address,
    async () => {
      for (const [i, [x, y]] of (
        [
          [80, 40],
          [80, 100],
          [80, 220],
          [360, 245],
        ] as const
      ).entries()) {
        await page.mouse.click(x, y);
        await taken(r, i + 1);
      }
      await page.mouse.click(80, 160);
      await page.waitForURL("**/next");
      await page.getByRole("button", { name: "Done here" }).click();
    },
    true,
  );
  inner.server.close();
  site.server.close();
  const shots = await run(r);
  expect(acts(shots)).toEqual([
    "click button At pointerdown",
    "click button At mousedown",
    "click button In the dark",
    "click button Inner",
    "click button Leaves",
    "click button Done here",
    "end",
  ]);
  const before = ["255,255,255", "255,0,0", "0,255,0", "255,255,0", "255,255,0"];
  for (const [i, colour] of before.entries())
    expect(await colourAt(r, shots[i], 900, 600), `picture ${i + 1}`).toBe(colour);
  const [rect] = [shots[3]?.about.action?.element?.rect];
  expect([Math.round(rect?.x ?? 0), Math.round(rect?.y ?? 0)]).toEqual([333, 233]);
  expect(await colourAt(r, shots[3], 303 + 60, 203 + 95), "a password in another frame is painted over").toBe(
    "107,119,128",
  );
  expect(await colourAt(r, shots[3], 303 + 250, 203 + 150), "the frame before its effect").toBe("255,255,255");
});

test("what must not be seen stays so when the page changes its address, in frames that tell nothing, and when the recorder begins again", async () => {
  const { page, context } = r;
  const field = "position:absolute;left:20px;width:120px;height:30px;border:0;background:#ff00c8";
  const inner = await serve({ "/": `<input autocomplete="cc-number" style="${field};top:20px" value="planted">` });
  const site = await serve({
    "/": `<title>Payment</title><input type="password" style="${field};top:300px" value="planted">
      <button style="position:absolute;left:20px;top:20px;width:120px;height:40px" onclick="history.pushState({},'','/paid')">Pay</button>
      <button style="position:absolute;left:20px;top:80px;width:120px;height:40px">Look</button>
      <object type="text/html" data="${inner.address}/" style="position:absolute;left:300px;top:100px;width:300px;height:100px"></object>
      <iframe src="${inner.address.replace("127.0.0.1", "localhost")}/" style="position:absolute;left:300px;top:300px;width:300px;height:100px;border:0"></iframe>`,
  });
  await record(r, site.address, async () => {
    await page.mouse.click(80, 40);
    await page.waitForURL("**/paid");
    await taken(r, 1);
    await page.mouse.click(80, 100);
    await taken(r, 2);
    // The browser ends a background script whenever it likes; the next act begins it again.
    const devtools = await context.newCDPSession(page);
    const { targetInfos } = await devtools.send("Target.getTargets");
    const workers = targetInfos.filter((t) => t.type === "service_worker").map((t) => t.targetId);
    // The page may have it begun again at once, under the same id: it is ended until a look finds it gone.
    const left = async () => {
      const all = (await devtools.send("Target.getTargets")).targetInfos.map((t) => t.targetId);
      const there = workers.filter((w) => all.includes(w));
      for (const targetId of there) await devtools.send("Target.closeTarget", { targetId });
      return there;
    };
    await expect.poll(left, { intervals: [100] }).toEqual([]);
    await page.mouse.click(80, 100);
    await taken(r, 3);
  });
  inner.server.close();
  site.server.close();
  const shots = await run(r);
  expect(acts(shots)).toEqual(["click button Pay", "click button Look", "click button Look", "end"]);
  for (const [i, shot] of shots.entries()) {
    for (const [x, y] of [
      [60, 310],
      [360, 130],
      [360, 330],
    ] as const)
      expect(await colourAt(r, shot, x, y), `picture ${i + 1} at ${x}, ${y}`).toBe("107,119,128");
    expect(await colourAt(r, shot, 900, 600), `and the rest of picture ${i + 1} is seen`).toBe("255,255,255");
  }
});

test("acts of every kind are told apart; what a password was is in nothing that is sent, shown or not", async () => {
  const { page } = r;
  const site = await serve({
    "/": `<title>Many acts</title><label>Room <select id="room"><option>Room 3<option>Room 4</select></label>
      <label>Code <input id="code" type="password"></label><button id="eye" onclick="code.type='text'">Show</button>
      <label>Card <input autocomplete="cc-number" id="card"></label>
      <label>Fan <input type="range" id="fan" min="0" max="100"></label><label>Photo <input type="file" id="photo"></label>
      <div id="lot" role="row" tabindex="0" style="width:200px;height:40px;background:#eee">Lot 18</div>
      <div id="to" role="row" tabindex="0" style="width:200px;height:40px;background:#ddd;margin-top:60px">Room 6</div>
      <canvas id="plan" width="200" height="60"></canvas><div style="height:1500px"></div><button id="far">Far away</button>`,
  });
  await record(r, site.address, async () => {
    await page.locator("#room").selectOption("Room 4");
    await page.locator("#code").click();
    await page.keyboard.type("planted-code");
    await page.locator("#eye").click();
    await page.locator("#card").click();
    await page.keyboard.type("planted-card");
    await page.locator("#lot").dblclick();
    await page.locator("#lot").click({ button: "right" });
    await page.locator("#lot").dragTo(page.locator("#to"));
    await page.locator("#plan").click();
    await page.keyboard.press("Control+Shift+F8");
    await page.locator("#far").scrollIntoViewIfNeeded();
    await page.locator("#far").click();
    await page.goto(`${site.address}/?q=planted-query`);
    await page.goBack();
    await taken(r, 12);
  });
  site.server.close();
  const shots = await run(r);
  expect(JSON.stringify(shots)).not.toContain("planted");
  expect(acts(shots)).toEqual([
    "choose combobox Room Room 4",
    "keys password Code",
    "click button Show",
    "keys password Card",
    "double-click row Lot 18",
    "right-click row Lot 18",
    "drag row Lot 18 Room 6",
    "click drawing",
    "shortcut Ctrl+Shift+F8",
    "scroll button Far away",
    "click button Far away",
    "back",
    "end",
  ]);
});

test("fifty acts with the network cut in the middle are fifty shots, in order, once; nothing is taken while paused", async () => {
  const { page, panel } = r;
  const network = await line();
  await connect(r, network.address);
  const buttons = Array.from(
    { length: 50 },
    (_, i) => `<button style="width:90px;height:30px">Key ${i + 1}</button>`,
  ).join("");
  const site = await serve({ "/": `<title>Fifty</title>${buttons}` });
  await record(r, site.address, async () => {
    for (let i = 1; i <= 50; i++) {
      if (i === 11) network.cut();
      if (i === 20) {
        await panel.getByRole("button", { name: "Pause" }).dispatchEvent("click");
        await expect(panel.getByText("paused")).toHaveCount(1);
        await page.getByRole("button", { name: "Key 50", exact: true }).click();
        await panel.getByRole("button", { name: "Go on" }).dispatchEvent("click");
        await expect(panel.getByText("being recorded")).toHaveCount(1);
      }
      await page.getByRole("button", { name: `Key ${i}`, exact: true }).click();
      if (i === 40) {
        await expect(panel.getByRole("alert")).toContainText("Raconte can’t be reached");
        await network.mend();
      }
    }
  });
  site.server.close();
  const names = (await run(r)).map((s) => s.about.action?.element?.name);
  network.cut();
  await panel.getByLabel("Sent to").selectOption(base);
  expect(names.slice(0, -1)).toEqual(Array.from({ length: 50 }, (_, i) => `Key ${i + 1}`));
});

test("places are right at twice the pixels and zoomed, twelve clicks in a second are twelve, menus are still open", async () => {
  const dense = await withRecorder(true);
  await connect(dense);
  const hue = (i: number) => `rgb(${10 * i},${255 - 10 * i},${i % 2 ? 200 : 40})`;
  const buttons = Array.from(
    { length: 12 },
    (_, i) =>
      `<button style="width:90px;height:40px;margin:8px;border:0;background:${hue(i)}" aria-label="Key ${i}"></button>`,
  );
  const strict = await serve(
    { "/": `<title>Strict</title><div style="width:700px">${buttons.join("")}</div>` },
    "default-src 'none'; style-src 'unsafe-inline'",
  );
  const menu = await serve({
    "/": `<title>Menu</title><button id="open" onclick="menu.hidden=false;menu.focus()">Lot</button>
      <ul id="menu" hidden tabindex="-1" role="menu" style="margin:0;padding:0;width:200px" onblur="setTimeout(()=>menu.hidden=true)">
      <li role="menuitem" tabindex="-1" style="height:40px;background:rgb(0,90,255)" onpointerdown="menu.hidden=true">Print label</li></ul>`,
  });
  await record(dense, strict.address, async () => {
    const places = await Promise.all(
      buttons.map((_, i) => dense.page.getByLabel(`Key ${i}`, { exact: true }).boundingBox()),
    );
    for (const b of places) await dense.page.mouse.click((b?.x ?? 0) + 20, (b?.y ?? 0) + 20);
  });
  const colours = async (shots: Shot[]) => {
    const seen: string[] = [];
    for (const shot of shots) {
      const rect = shot.about.action?.element?.rect;
      if (rect) seen.push(await colourAt(r, shot, Math.round(rect.x + rect.w / 2), Math.round(rect.y + rect.h / 2)));
    }
    return seen;
  };
  let shots = await run(dense);
  expect(acts(shots)).toEqual([...buttons.map((_, i) => `click button Key ${i}`), "end"]);
  expect(shots[0]?.width).toBe(3840);
  expect((await colours(shots)).map((c) => `rgb(${c})`)).toEqual(buttons.map((_, i) => hue(i)));
  await dense.end();

  const { page, worker } = r;
  const zoom = (factor: number) =>
    worker.evaluate(
      async ([address, factor]) => {
        const tab = (await chrome.tabs.query({})).find((t) => t.url?.startsWith(address));
        await chrome.tabs.setZoom(tab?.id as number, factor);
      },
      [menu.address, factor] as const,
    );
  await record(r, menu.address, async () => {
    await zoom(1.5);
    await expect.poll(() => page.evaluate(() => devicePixelRatio)).toBe(1.5);
    await page.mouse.click(20, 10);
    await taken(r, 1);
    await page.mouse.click(100, 40);
  });
  await zoom(1); // it is the host's, in other tests too
  strict.server.close();
  menu.server.close();
  shots = await run(r);
  expect(acts(shots)).toEqual(["click button Lot", "click menuitem Print label", "end"]);
  expect(await colours(shots.slice(1))).toEqual(["0,90,255"]);
});

test("a run is gone through again: what fits is taken anew, what may send is asked about, what is gone is said", async () => {
  const { page, panel } = r;
  const form = (name: string, more = "") =>
    `<title>Lots</title><h1>New lot</h1><label>Bins <input id="bins"></label><label>Code <input type="password"></label>
     <button onclick="done.textContent='Kept '+bins.value">${name}</button>${more}<p id="done"></p>`;
  const pages = { "/": form("Receive lot", `<button onclick="done.textContent='Printed'">Print label</button>`) };
  const site = await serve(pages);
  await record(r, site.address, async () => {
    await page.getByLabel("Bins").click();
    await page.keyboard.type("18");
    await page.getByLabel("Code").click();
    await page.keyboard.type("planted-orchard-gate");
    await page.getByRole("button", { name: "Receive lot" }).click();
    await page.getByRole("button", { name: "Print label" }).click();
  });
  const before = await run(r);
  const document = await writeUp(r);

  pages["/"] = form("Receive the lot").replace("<h1>", `<div style="height:200px">New in this version</div><h1>`);
  const said = await checkByCommand(r, site.address, "planted-orchard-gate\nn\nn\n");
  expect(said.code).toBe(1);
  expect(said.out).toMatch(/Receive lot\.: not quite as it was[^]*Print label\.: not found[^]*4 of 5 steps fit/);
  expect(said.out).not.toContain("planted");

  await page.goto(site.address);
  await r.over(site.address);
  const say = (name: string) => panel.getByRole("button", { name }).dispatchEvent("click");
  await panel.getByText("Check a run on this page").click();
  await panel.getByRole("button", { name: "Check it" }).click();
  await page.bringToFront();
  const step = panel.locator("#checking");
  await expect(step).toContainText("Type it yourself");
  await expect(page.getByLabel("Bins")).toHaveValue("18");
  await page.getByLabel("Code").fill("planted-orchard-gate");
  await say("Go on");
  await expect(step).toContainText("Is it the right one?");
  await expect(page.locator("#done")).toHaveText(""); // nothing was sent yet
  // What was found is replaced by its like before the person answers: nothing else is pressed in its place.
  const key = page.getByRole("button", { name: "Receive the lot" });
  await key.evaluate((b) => b.replaceWith(b.cloneNode(true)));
  await say("Do it");
  await expect(step).toContainText("It could not be done");
  await expect(page.locator("#done")).toHaveText("");
  await key.click();
  await expect(page.locator("#done")).toHaveText("Kept 18");
  await say("Go on");
  await expect(step).toContainText("was not found");
  await say("Leave it out");
  await expect(panel.getByText("4 of 5 steps fit.")).toHaveCount(1);
  await expect(panel.getByText("not sent yet")).toHaveCount(0);
  site.server.close();
  const check = (await panel.getByRole("link", { name: "See its pictures" }).getAttribute("href"))?.split("/").pop();
  const { shots } = (await (await page.request.get(`${base}/api/captures/${check}`)).json()) as { shots: Shot[] };
  expect(shots.map((s) => s.about.replay)).toEqual(
    before.map((s, i) => ({ of: s.id, fit: ["same", "same", "changed", "gone", "same"][i] })),
  );
  expect(JSON.stringify(shots)).not.toContain("planted");
  const code = shots[1]?.about.action?.element?.rect ?? { x: 0, y: 0, w: 0, h: 0 };
  expect(await colourAt(r, shots[2], Math.round(code.x + 10), Math.round(code.y + 8))).toBe("107,119,128");

  await page.goto(`${base}/d/${document}/write`);
  await page.getByRole("button", { name: "Take 4 pictures of the last check" }).click();
  await expect(page.getByText(/undo brings all back/).first()).toBeVisible();
  await expect(page.getByRole("status").filter({ hasText: /^Saved \d\d:\d\d$/ })).toBeVisible();
  const { blocks } = (await (await page.request.get(`${base}/api/documents/${document}`)).json()) as {
    blocks: { content: { figures: { shot: string; marks: { kind: string; points: { y: number }[] }[] }[] } }[];
  };
  expect(blocks.map((b) => b.content.figures[0]?.shot)).toEqual(
    [0, 1, 2, 3, 4].map((i) => (i === 3 ? before : shots)[i]?.id),
  );
  const top = (i: number) => blocks[i]?.content.figures[0]?.marks.find((m) => m.kind === "box")?.points[0]?.y ?? 0;
  expect(top(0)).toBeGreaterThan(190); // its box went down with the field
});
