// Nothing on the page moves between a press and its release: what was pressed would else not be what is hit.

let down = false;
let waiting: (() => void)[] = [];

function released() {
  down = false;
  const now = waiting;
  waiting = [];
  setTimeout(() => now.forEach((then) => then())); // what was pressed hears of it first
}

if (typeof document !== "undefined") {
  addEventListener("pointerdown", () => (down = true), true);
  addEventListener("pointerup", released, true);
  addEventListener("pointercancel", released, true);
}

/**
 * Does something that may move the page: at once, or, while something is pressed, after its release. The answer calls
 * it off.
 */
export function afterPress(then: () => void): () => void {
  if (!down) {
    then();
    return () => undefined;
  }
  waiting.push(then);
  return () => void (waiting = waiting.filter((w) => w !== then));
}
