import { expect } from "@playwright/test";
import { readFileSync } from "node:fs";

const page = readFileSync(new URL("../../../docs/jobs.md", import.meta.url), "utf8");

/** A job of docs/jobs.md that is walked: each act is one action, and there are no more than the page says. */
export function job(name: string) {
  const row = page.split("\n").find((line) => line.startsWith(`| ${name} |`));
  const most = Number(row?.split("|").at(-2));
  if (!row || !(most > 0)) throw new Error(`docs/jobs.md knows no job “${name}”`);
  let actions = 0;
  return {
    act: async (...does: (() => Promise<unknown>)[]) => {
      actions++;
      for (const d of does) await d();
    },
    done: () => {
      expect(actions, `actions of “${name}”`).toBeLessThanOrEqual(most);
      expect(row, `docs/jobs.md says how many actions “${name}” takes`).toContain(`| ${actions} | ${most} |`);
    },
  };
}
