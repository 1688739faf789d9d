import { expect, test } from "vitest";
import { Layout } from "./layout";
import type { FrameState, Rect } from "./types";

const rect = (x: number, y: number): Rect => ({ x, y, w: 10, h: 10 });
const frame = (some: Partial<FrameState>): FrameState => ({
  key: "",
  document: "one",
  secrets: [],
  frames: [],
  strangers: [],
  ...some,
});
const seat = (key: string, x: number) => ({ key, rect: rect(x, 0) });

test("before the page has told, all of it is covered", () => {
  const layout = new Layout();
  expect(layout.secrets()).toBeUndefined();
  layout.told(3, frame({ key: "inner", secrets: [rect(1, 1)] }));
  expect(layout.secrets()).toBeUndefined();
  layout.told(0, frame({}));
  expect(layout.secrets()).toEqual([]);
});

test("secrets lie where their frames lie; a frame that has not told is covered whole, and what is gone is forgotten", () => {
  const layout = new Layout();
  layout.told(0, frame({ secrets: [rect(5, 5)], frames: [seat("a", 100), seat("b", 200)], strangers: [rect(300, 0)] }));
  expect(layout.secrets()).toEqual([rect(5, 5), rect(300, 0), rect(100, 0), rect(200, 0)]);
  layout.told(1, frame({ key: "a", document: "x", frames: [seat("deep", 20)] }));
  layout.told(2, frame({ key: "b", document: "y" }));
  expect(layout.secrets()).toEqual([rect(5, 5), rect(300, 0), rect(120, 0)]);
  layout.told(4, frame({ key: "deep", document: "z", secrets: [rect(1, 2)] }));
  expect(layout.secrets()).toEqual([rect(5, 5), rect(300, 0), rect(121, 2)]);
  layout.told(0, frame({ frames: [seat("b", 200)] }));
  expect(layout.secrets()).toEqual([]);
});

test("another document alone makes it forget; a state of the same page does not", () => {
  const layout = new Layout();
  layout.told(0, frame({ secrets: [rect(5, 5)] }));
  layout.told(1, frame({ key: "a", document: "x" }));
  layout.doubt(); // as after history.pushState, and before a new page has told
  expect(layout.secrets()).toBeUndefined();
  expect(layout.told(0, frame({ secrets: [rect(5, 5)] }))).toBe(false);
  expect(layout.kept).toHaveLength(2);
  expect(layout.secrets()).toEqual([rect(5, 5)]);
  expect(layout.told(0, frame({ document: "two" }))).toBe(true);
  expect(layout.kept).toHaveLength(1);
});

test("what was kept before the background began again is known to it", () => {
  const before = new Layout();
  before.told(0, frame({ secrets: [rect(5, 5)], frames: [seat("a", 100)] }));
  expect(new Layout(JSON.parse(JSON.stringify(before.kept))).secrets()).toEqual([rect(5, 5), rect(100, 0)]);
});

test("frames that name each other lead nowhere", () => {
  const layout = new Layout();
  layout.told(0, frame({}));
  layout.told(1, frame({ key: "a", document: "x", frames: [seat("b", 1)], secrets: [rect(0, 0)] }));
  layout.told(2, frame({ key: "b", document: "y", frames: [seat("a", 1)] }));
  expect(layout.secrets()).toEqual([]);
});
