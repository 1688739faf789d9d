// The core as browsers run it, with what a page may get wrong: it answers, and goes on.
import { beforeAll, expect, test } from "vitest";

// Types of Node are not those of the interface.
type Files = { readFileSync(file: URL): Uint8Array<ArrayBuffer>; readFileSync(file: URL, encoding: string): string };
const fs: string = "node:fs";
const { readFileSync } = (await import(/* @vite-ignore */ fs)) as Files;

const root = new URL("../../../../", import.meta.url);
const named = (file: string) =>
  [...readFileSync(new URL(`cmd/corewasm/${file}`, root), "utf8").matchAll(/^\t+(?:calls\[)?"(\w+)"(?:\] =|:) /gm)].map(
    ([, name]) => name as string,
  );
const calls = named("main.go");
const stageCalls = named("stages.go").filter((n) => n !== "newStage" && n !== "closeStage");

const call = (name: string, args: unknown) => JSON.parse(raconteCore(name, JSON.stringify(args))) as Answer;
type Answer = { ok?: unknown; error?: string };
const here = globalThis as unknown as { raconteStage: (handle: number, name: string, args: string) => string };
const onStage = (handle: number, name: string, args: unknown) =>
  JSON.parse(here.raconteStage(handle, name, JSON.stringify(args))) as Answer;

beforeAll(async () => {
  await import(/* @vite-ignore */ new URL("web/public/wasm_exec.js", root).href);
  const go = new Go();
  const ready = new Promise<void>((resolve) => (globalThis.raconteReady = resolve));
  const module = await WebAssembly.compile(readFileSync(new URL("web/public/core.wasm", root)));
  void go.run(await WebAssembly.instantiate(module, go.importObject));
  await ready;
}, 60_000);

const box = { id: "b", kind: "box", points: [{ x: 10, y: 10 }, { x: 60, y: 40 }], ink: "red", weight: "medium" }; // prettier-ignore
const figure = { id: "f", shot: "s", alt: "", marks: [box] };
const shot = { w: 400, h: 300 };

const odd: unknown[] = [
  null,
  {},
  [],
  "x",
  -1,
  1e308,
  { figure: { id: "f", shot: "s", alt: "", marks: [{ ...box, points: [] }] }, shot: { w: 0, h: 0 } },
  { figure: { id: "f", shot: "s", alt: "", marks: [{ ...box, kind: "no such kind" }] }, shot },
];

test("every function of the core answers whatever it is asked, and fails at nothing", () => {
  expect(calls.length).toBeGreaterThan(60);
  const failed: string[] = [];
  for (const name of calls) {
    for (const args of odd) {
      const { error } = call(name, args);
      if (error?.startsWith("the core failed")) failed.push(`${name} ${JSON.stringify(args).slice(0, 60)}: ${error}`);
    }
  }
  expect(failed).toEqual([]);
  expect(call("no such function", {}).error).toContain("no function");
});

test("an open picture answers whatever it is asked, and what was drawn is still there", () => {
  expect(stageCalls.length).toBeGreaterThan(20);
  const handle = call("newStage", {}).ok as number;
  onStage(handle, "open", { figure, shot, first: 1 });
  const failed: string[] = [];
  for (const name of stageCalls) {
    for (const args of odd) {
      const { error } = onStage(handle, name, args);
      if (error?.startsWith("the core failed")) failed.push(`${name} ${JSON.stringify(args).slice(0, 60)}: ${error}`);
    }
  }
  expect(failed).toEqual([]);

  onStage(handle, "open", { figure, shot, first: 1 });
  onStage(handle, "choose", { tool: "ellipse", keep: false });
  const at = (x: number, y: number) => ({ at: { x, y }, scale: 1 });
  onStage(handle, "down", at(100, 100));
  onStage(handle, "move", at(180, 160));
  const drawn = onStage(handle, "up", at(180, 160)).ok as { figure: typeof figure };
  expect(drawn.figure.marks.map((m) => m.kind)).toEqual(["box", "ellipse"]);
  call("closeStage", handle);
  expect(onStage(handle, "redraw", {}).error).toBeDefined();
});
