import { expect, test } from "vitest";
import type { HouseStyle, Scene } from "../../base/api/client";
import { settingAt } from "./settingAt";

const style = {
  margins: { top: 40, right: 43, bottom: 52, left: 43 },
  size: 10.5,
  colors: { accent: "#0b5f66" },
} as HouseStyle;

const sheet = {
  w: 595,
  h: 842,
  items: [
    { picture: { ref: "figure:f", target: { x: 83, y: 200, w: 260, h: 146 }, alt: "" } },
    { picture: { ref: "logo:a", target: { x: 43, y: 40, w: 80, h: 20 }, alt: "" } },
    { words: { face: "bold", size: 20, x: 43, y: 90, w: 200, text: "Receive a lot", fill: "#16272d" } },
    { words: { face: "bold", size: 20, x: 43, y: 220, w: 11, text: "1", fill: "#16272d" } },
    { words: { face: "regular", size: 10.5, x: 360, y: 220, w: 100, text: "Press Go", fill: "#16272d" } },
    { words: { face: "regular", size: 10.5, x: 360, y: 250, w: 100, text: "help", fill: "#0b5f66" } },
  ],
} as unknown as Scene;

test.each([
  ["header", 300, 20],
  ["footer", 300, 820],
  ["paper", 20, 400],
  ["pictures", 200, 250],
  ["logo", 60, 50],
  ["title", 100, 85],
  ["numbers", 46, 215],
  ["words", 380, 217],
  ["steps", 300, 600],
])("a press leads to the settings of %s", (setting, x, y) => {
  expect(settingAt(sheet, style, x, y)).toBe(setting);
});
