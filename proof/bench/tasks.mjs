// How long the page stands still: the tasks of its main thread, by the clock and by the processor time they took. On
// a machine that others use too, a task can stand by the clock for long without doing anything.
import { readFileSync } from "node:fs";

/** Does some work and gives the longest tasks of the page meanwhile, in milliseconds. */
export async function tasks(browser, page, work) {
  await browser.startTracing(page, { categories: ["devtools.timeline", "disabled-by-default-devtools.timeline"] });
  const stolen = stolenTime();
  await page.evaluate(() => new Promise((done) => setTimeout(done, 500)));
  await page.evaluate(() => console.timeStamp("begin"));
  await work();
  const share = stolenTime() - stolen;
  const events = JSON.parse((await browser.stopTracing()).toString()).traceEvents;
  const begin = events.find((e) => e.name === "TimeStamp" && e.args?.data?.message === "begin");
  const own = events.filter((e) => e.pid === begin.pid && e.tid === begin.tid && e.name === "RunTask" && e.ts > begin.ts);
  return {
    clock: own.map((e) => (e.dur ?? 0) / 1000).sort((a, b) => b - a),
    work: own.map((e) => (e.tdur ?? 0) / 1000).sort((a, b) => b - a),
    stolen: share,
  };
}

/** Seconds of processor time that the machine gave to others since it started; 0 where it does not say. */
function stolenTime() {
  try {
    return Number(readFileSync("/proc/stat", "utf8").split("\n")[0].trim().split(/\s+/)[8] ?? 0) / 100;
  } catch {
    return 0;
  }
}

/** The tasks in words. */
export function told({ clock, work, stolen }) {
  const over = (all) => all.filter((t) => t > 50).length;
  return `${over(work)} times over 50 ms of its own work (wanted: never), at most ${work[0].toFixed(0)} ms; ${over(clock)} times by the clock, while the machine gave ${stolen.toFixed(1)} s to others`;
}
