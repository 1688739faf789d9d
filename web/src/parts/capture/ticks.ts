/** Does something again and again, also while the page is hidden, until the answer is called. */
export function everyNow(ms: number, then: () => void): () => void {
  const worker = new Worker(new URL("./ticks.worker.ts", import.meta.url), { type: "module" });
  let timer: ReturnType<typeof setInterval> | undefined;
  worker.onmessage = then;
  worker.onerror = () => (timer ??= setInterval(then, ms)); // it can't be loaded now
  worker.postMessage(ms);
  return () => {
    worker.terminate();
    clearInterval(timer);
  };
}
