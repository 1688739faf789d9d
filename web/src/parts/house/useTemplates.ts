import { bytes } from "../../base/api/bytes";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { api, expect, type Template, type TemplateKind } from "../../base/api/client";

/** The templates of the house. */
export const useTemplates = () => useQuery(ask("/api/templates"));

/** Keeps a new template. */
export const addTemplate = (kind: TemplateKind, name: string, file: Blob) =>
  expect(
    api.POST("/api/templates", {
      params: { query: { kind, name: name.slice(0, 80) } },
      ...bytes(file),
    }),
  );

/** Keeps another file for a template. */
export const changeTemplate = (t: Template, file: Blob) =>
  expect(
    api.PUT("/api/templates/{template}", {
      params: { path: { template: t.id }, query: { version: t.version } },
      ...bytes(file),
    }),
  );

/** What is to be said of a template that is being written. */
export const checkTemplate = (source: string, script: boolean, signal: AbortSignal) =>
  expect(
    api.POST("/api/templates/checked", {
      params: { query: { script } },
      ...bytes(source),
      signal,
    }),
  );

/** The file of a template, or of one to begin with, as text. */
export async function textOf(address: string): Promise<string> {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error("The template could not be had. Try again.");
  return answer.text();
}
