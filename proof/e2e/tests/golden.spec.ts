import { expect, type Page, test } from "@playwright/test";
import { makeDocument, openManuscript, png, saved, signIn } from "./support";

// The browser's drawing and the server's come from the same core; they may differ by how two rasterizers smooth
// edges and scale pictures, no more: at most 1 % root mean square, and nowhere a large patch.

const [W, H] = [1000, 600];
// Soft waves with a coloured panel: edges would show how two programs scale pictures, not what is drawn where.
const ground = png(W, H, (x, y) => {
  const wave = Math.round(14 * Math.sin(x / 40) + 14 * Math.cos(y / 30));
  return x > 560 && x < 900 ? [40 + wave, 90 + wave, 110] : [215 + wave, 225 + wave, 220];
});

type Point = { x: number; y: number };
const p = (x: number, y: number): Point => ({ x, y });

/** Where a kind lies in the picture. */
function points(kind: string, i: number): Point[] {
  const [a, b] = [p(120.5 + 40 * i, 90.25 + 120 * i), p(520.75 + 40 * i, 190.5 + 120 * i)];
  switch (kind) {
    case "marker":
    case "pointer":
      return [p(300 + 150 * i, 200 + 90 * i)];
    case "pen":
      return Array.from({ length: 20 }, (_, k) => p(a.x + 20 * k, a.y + 30 * Math.sin(k / 2)));
    case "note":
      return [a, b, p(a.x + 60, a.y + 110)];
    case "detail":
      return [p(a.x, a.y), p(a.x + 120, a.y + 60), p(a.x + 420, a.y + 70)];
    default:
      return [a, b];
  }
}

const kinds = "arrow line box ellipse pen text note marker concealment patch highlight light detail pointer".split(" ");

const styles: Record<string, object[]> = {
  arrow: [
    { way: "curved", heads: "both" },
    { way: "bent", dash: "dashed" },
    { opacity: 60, shadow: true },
  ],
  line: [{ dash: "dotted" }, { way: "curved", dash: "dashed" }, { keyline: "dark" }],
  box: [
    { fill: "tint", corner: 24 },
    { fill: "solid", opacity: 50 },
    { dash: "dashed", corner: -1, shadow: true },
  ],
  ellipse: [{ fill: "tint" }, { dash: "dotted" }, { fill: "solid", keyline: "none" }],
  text: [{ plate: "bare" }, { align: "middle", size: 30 }, { align: "end", corner: 20, shadow: true }],
  note: [{ align: "middle" }, { size: 28, shadow: true }, { keyline: "dark" }],
  marker: [{ count: "A" }, { count: "i", shadow: true }, { keyline: "dark", opacity: 70 }],
  concealment: [{ look: "hatched" }, { look: "scrambled" }, {}],
  highlight: [{ ground: "dark" }, {}, { ink: "blue" }],
  detail: [{ look: "round" }, { zoom: 300 }, { corner: -1 }],
};

const weights = ["fine", "medium", "strong"];
const marksOf = (kind: string, looks: object[]) =>
  looks.map((look, i) => ({
    id: `m${i}`,
    kind,
    ink: ["red", "amber", "dark"][i] ?? "red",
    weight: weights[i] ?? "medium",
    turn: i,
    points: points(kind, i),
    ...(["text", "note"].includes(kind) && { text: "Wägen Sie Kiste 7, Zürich ŐŠ" }),
    ...(kind === "patch" && { color: "#aabbcc" }),
    ...look,
  }));

const rich = ["box", "arrow", "marker", "text", "concealment", "detail", "highlight"].flatMap((kind, i) =>
  marksOf(kind, [{}]).map((m) => ({ ...m, id: `${kind}${i}` })),
);

const shown: Record<string, object> = {
  "turned by a quarter": { quarter: 1 },
  "turned by three quarters and mirrored": { quarter: 3, mirror: true },
  straightened: { tilt: 2.5 },
  folded: {
    folds: [
      { from: 250, to: 330 },
      { down: true, from: 300, to: 420 },
    ],
  },
  "with a margin": { margin: { top: 20, right: 80, bottom: 40, left: 10 } },
  "with a rounded edge": { edge: { look: "rounded" } },
  "with a faded edge": { edge: { look: "faded" } },
  "with open edges": { crop: { x: 60, y: 40, w: 800, h: 500 }, edge: { open: "auto" } },
  "cut out": { crop: { x: 100, y: 60, w: 700, h: 480 }, outline: [p(120, 80), p(780, 90), p(700, 520), p(110, 500)] },
  "in grey": { tone: { look: "grey" } },
  "in black and white": { tone: { look: "mono" } },
  "inverted and lighter": { tone: { look: "inverted", light: 30 } },
  darker: { tone: { light: -40 } },
  "in other colours": { recolours: [{ from: "#285a6e", near: 12, to: "#8c2a3c" }] },
  "in other colours where they hang together": {
    recolours: [{ from: "#d7e1dc", near: 14, at: { x: 100, y: 500 }, to: "#f5d27a" }],
    crop: { x: 60, y: 40, w: 800, h: 500 },
  },
  "without a colour": { recolours: [{ from: "#285a6e", near: 14 }] },
};

/** How far a picture on the page is from the one that the server makes. */
async function difference(page: Page, document: string, figure: string) {
  const shown = `[data-figure="${figure}"] svg.isolate`;
  await page.locator(`[data-figure="${figure}"]`).scrollIntoViewIfNeeded();
  await expect(page.locator(`${shown} > g image`).first()).toBeAttached();
  return compare(page, document, figure, shown);
}

/** How far what an svg shows is from the finished picture. */
function compare(page: Page, document: string, figure: string, shown: string) {
  return page.evaluate(
    async ({ address, shown }) => {
      const blank = (w: number, h: number) => {
        const canvas = Object.assign(window.document.createElement("canvas"), { width: w, height: h });
        const on = canvas.getContext("2d", { willReadFrequently: true }) as CanvasRenderingContext2D;
        on.fillStyle = "#fff";
        on.fillRect(0, 0, w, h);
        return on;
      };
      const image = async (source: string) => {
        const image = new Image();
        image.src = source;
        await image.decode();
        return image;
      };
      const finished = await image(URL.createObjectURL(await (await fetch(address)).blob()));
      const [w, h] = [finished.width, finished.height];
      const server = blank(w, h);
      server.drawImage(finished, 0, 0);

      const svg = window.document.querySelector(shown) as SVGSVGElement;
      const copy = svg.cloneNode(true) as SVGSVGElement;
      while (copy.children.length > 1) copy.lastElementChild?.remove(); // grips and guides
      copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
      copy.setAttribute("width", String(w));
      copy.setAttribute("height", String(h));
      for (const picture of copy.querySelectorAll("image")) {
        const whole = (picture.getAttribute("href") ?? "").replace(/\/preview$/, "");
        const pixels = await image(whole);
        const own = blank(pixels.width, pixels.height);
        own.clearRect(0, 0, pixels.width, pixels.height);
        own.drawImage(pixels, 0, 0);
        const data = own.canvas.toDataURL();
        picture.setAttribute("href", data);
      }
      const browser = blank(w, h);
      const text = new XMLSerializer().serializeToString(copy);
      browser.drawImage(await image(`data:image/svg+xml,${encodeURIComponent(text)}`), 0, 0);

      const [a, b] = [server.getImageData(0, 0, w, h).data, browser.getImageData(0, 0, w, h).data];
      let sum = 0;
      let far = 0;
      let seen = 0;
      for (let i = 0; i < a.length; i += 4) {
        let worst = 0;
        for (let c = 0; c < 3; c++) {
          const d = (a[i + c] ?? 0) - (b[i + c] ?? 0);
          sum += d * d;
          worst = Math.max(worst, Math.abs(d));
        }
        if (worst > 64) far++;
        if ((a[i] ?? 255) < 250) seen++;
      }
      return { rms: Math.sqrt(sum / (w * h * 3)) / 255, far: far / (w * h), seen: seen / (w * h) };
    },
    { address: `/api/documents/${document}/figures/${figure}`, shown },
  );
}

type Golden = [name: string, figure: Record<string, unknown>];

async function drawnAlike(page: Page, title: string, all: Golden[]) {
  await signIn(page);
  const { id, figures } = await makeDocument(
    page.request,
    `Golden ${title}`,
    all.map(([, figure]) => ({ words: "x", picture: ground, figure })),
  );
  await openManuscript(page, id);
  for (const [i, [name, figure]] of all.entries()) {
    if (figure.recolours)
      await expect(
        page.locator(`[data-figure="${figures[i]}"] svg.isolate image[href^="blob:"]`).first(),
      ).toBeAttached();
    const d = await difference(page, id, figures[i] ?? "");
    expect.soft(d.seen, `${name}: something is shown`).toBeGreaterThan(0.2);
    expect.soft(d.rms, name).toBeLessThan(0.01);
    expect.soft(d.far, name).toBeLessThan(0.0005);
  }
}

test("golden: the browser draws marks of every kind and style as the server does", async ({ page }) => {
  await drawnAlike(page, "marks", [
    ...kinds.map((kind): Golden => [kind, { marks: marksOf(kind, [{}, {}, {}]) }]),
    ...Object.entries(styles).map(([kind, looks]): Golden => [`${kind} in styles`, { marks: marksOf(kind, looks) }]),
  ]);
});

test("golden: the browser shows pictures as the server does, however they are shown", async ({ page }) => {
  await drawnAlike(
    page,
    "pictures",
    Object.entries(shown).map(([name, view]): Golden => [name, { marks: rich, ...view }]),
  );
});

test("golden: an open picture is, after drags that end away from the last movement, as the server makes it", async ({
  page,
}) => {
  await signIn(page);
  const { id, figures } = await makeDocument(page.request, "Golden stage", [
    { words: "x", picture: ground, figure: { marks: rich } },
  ]);
  await page.goto(`/d/${id}/write?picture=${figures[0]}`);
  const stage = page.getByRole("application");
  await expect(stage.locator("image").first()).toBeAttached();
  const box = (await stage.boundingBox()) as { x: number; y: number; width: number; height: number };
  const at = (x: number, y: number) => [box.x + x * box.width, box.y + y * box.height] as const;
  type Place = [x: number, y: number];
  const strokes: [key: string, from: Place, to: Place][] = [
    ["w", [0.1, 0.1], [0.3, 0.3]],
    ["q", [0.6, 0.2], [0.8, 0.5]],
    ["z", [0.2, 0.7], [0.4, 0.9]],
  ];
  for (const [key, from, to] of strokes) {
    await page.keyboard.press(key);
    await page.mouse.move(...at(...from));
    await page.mouse.down();
    await page.mouse.move(...at((from[0] + to[0]) / 2, (from[1] + to[1]) / 2));
    // The last movement and the release come together: the page has drawn nothing in between.
    await Promise.all([page.mouse.move(...at(...to)), page.mouse.up()]);
  }
  await page.keyboard.press("Control+a");
  await page.keyboard.press("ArrowRight");
  await saved(page);
  const d = await compare(page, id, figures[0] ?? "", "[role=application]");
  expect(d.seen).toBeGreaterThan(0.2);
  expect(d.rms).toBeLessThan(0.01);
  expect(d.far).toBeLessThan(0.0005);
});
