/** Does something when the page has time; soon where the browser can't tell. The answer takes it back. */
export function whenIdle(work: () => void, timeout = 800): () => void {
  if (!("requestIdleCallback" in globalThis)) {
    const timer = setTimeout(work, 100);
    return () => clearTimeout(timer);
  }
  const wait = requestIdleCallback(work, { timeout });
  return () => cancelIdleCallback(wait);
}
