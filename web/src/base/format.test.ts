import { readMs, sayMs } from "./format";
import { expect, test } from "vitest";

test("times are read as people write them, and said so that they are read again", () => {
  expect(["3", "3.25", "0:03.25", "1:02,5", " 12 "].map(readMs)).toEqual([3000, 3250, 3250, 62_500, 12_000]);
  expect(["", "x", "1:2:3", "-4", "1e3"].map(readMs)).toEqual(Array(5).fill(undefined));
  for (const ms of [0, 990, 59_990, 60_000, 599_000]) expect(readMs(sayMs(ms, true))).toBe(ms);
  expect(sayMs(61_999)).toBe("1:01");
});
