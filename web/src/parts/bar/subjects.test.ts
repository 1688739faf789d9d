import { expect, test } from "vitest";
import type { Account } from "../../base/api/client";
import { findSubjects } from "./subjects";

const account = (may: Account["may"]): Account => ({
  id: "a",
  name: "a",
  displayName: "A",
  role: "author",
  may,
  mails: "now",
  oneTime: false,
  password: true,
});

const found = (text: string, may: Account["may"] = ["edit", "administer"]) =>
  findSubjects(account(may), text).map((s) => s.name);

test("what is set up is found by the beginnings of what one calls it, by all words of the question", () => {
  expect(found("Sign")).toEqual(["Approval"]);
  expect(found("closed fold")).toEqual(["Folders and numbers"]);
  expect(found("closed token")).toEqual([]);
  expect(found("  ")).toHaveLength(11);
});

test("what only administrators set up is not offered to others", () => {
  expect(found("", ["edit"])).toEqual(["Keys", "Recorders", "Styles and templates", "Words", "Doors"]);
  expect(found("people", ["edit"])).toEqual([]);
});
