// Runs the benches, prints each figure beside the one kept last, and keeps it in docs/performance.json. What became worse
// by a third is marked. A bench that fails does not keep the rest from running.
import { spawn } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { createInterface } from "node:readline";

const file = "docs/performance.json";
const kept = JSON.parse(readFileSync(file, "utf8"));
const today = new Date().toISOString().slice(0, 10);

/** The figure of a line: its first number with a unit, of which less is better unless it tells how often or how much as well. */
export function figureOf(text) {
  const found = /(\d+(?:\.\d+)?) (ms|s|MB|times)(?![a-z])/.exec(text) ?? /(\d+(?:\.\d+)?) (%)/.exec(text);
  return found && { value: Number(found[1]), unit: found[2], more: /^(times as fast|%)/.test(text.slice(found.index + found[1].length + 1)) };
}

const worse = (now, before) => (now.more ? now.value * 4 < before.value * 3 : now.value * 3 > before.value * 4);

let worsened = 0;
function hear(line) {
  const [what, said] = line.split("\t");
  if (said === undefined) return console.log(line);
  const now = figureOf(said);
  const before = kept[what];
  const comparable = now && before && before.unit === now.unit;
  const mark = comparable && worse(now, before);
  worsened += mark ? 1 : 0;
  const then = comparable ? `   [${before.value} ${before.unit} on ${before.on}${mark ? ", WORSE" : ""}]` : "";
  console.log(`${what.padEnd(62)} ${said}${then}`);
  if (now) kept[what] = { value: now.value, unit: now.unit, on: today };
}

function run(command, ...args) {
  const bench = spawn(command, args, { stdio: ["ignore", "pipe", "inherit"] });
  createInterface({ input: bench.stdout }).on("line", hear);
  return new Promise((done) => bench.on("close", (code) => done(code === 0)));
}

const failed = [];
const parts = ["flatten", "compare", "stitch", "encode", "reshoot", "print", "search", "moving", "readers"];
const pages = ["browser", "app", "capture", "recorder", "together", "recording"];
const chosen = process.argv.slice(2);
for (const name of chosen.length > 0 ? chosen : [...parts, ...pages]) {
  const bench = parts.includes(name) ? ["bin/bench", name] : ["node", `proof/bench/${name}.mjs`];
  if (!(await run(...bench))) failed.push(name);
}
writeFileSync(file, `${JSON.stringify(Object.fromEntries(Object.entries(kept).sort()), null, 2)}\n`);
if (worsened > 0) console.log(`${worsened} figures became worse by a third or more.`);
if (failed.length > 0) {
  console.error(`These did not run to their end: ${failed.join("; ")}`);
  process.exit(1);
}
