import { expect, it } from "vitest";
import { Store } from "./store";

class Counter extends Store {
  n = 0;

  add(quietly = false) {
    this.n++;
    if (quietly) this.outdate();
    else this.tell();
  }
}

it("tells whoever watches, until they stop, and is another after each change", () => {
  const counter = new Counter();
  const seen: number[] = [];
  const stop = counter.subscribe(() => seen.push(counter.n));
  const before = counter.snapshot();
  counter.add();
  expect(counter.snapshot()).not.toBe(before);
  const told = counter.snapshot();
  counter.add(true);
  expect(counter.snapshot()).not.toBe(told); // whoever looks sees it, though nobody was told
  stop();
  counter.add();
  expect(seen).toEqual([1]);
});
