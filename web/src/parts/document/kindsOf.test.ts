import { expect, test } from "vitest";
import type { Finding } from "../../base/api/client";
import { kindsOf } from "./kindsOf";

const finding = (rule: string, severity: string, block: string) =>
  ({ rule, severity, block, title: `${rule} of ${block}`, advice: "" }) as Finding;

test("findings of one kind are one line, secrets first, then what must be fixed", () => {
  const kinds = kindsOf([
    finding("no-alt", "worth-a-look", "a"),
    finding("no-words", "must-fix", "b"),
    finding("no-alt", "worth-a-look", "b"),
    finding("secrets", "worth-a-look", "c"),
    finding("new-rule", "worth-a-look", "d"),
  ]);
  expect(kinds.map((k) => k.title)).toEqual([
    "secrets of c",
    "no-words of b",
    "2 pictures without a description",
    "new-rule of d",
  ]);
});
