import type { Layout } from "../../base/api/client";

/** How steps are set on a page, each with its use, in the order in which they are offered. */
export const layouts: { layout: Layout; name: string; use: string }[] = [
  { layout: "running", name: "Words beside pictures", use: "for manuals" },
  { layout: "one", name: "One step to a page", use: "for training" },
  { layout: "two", name: "Two steps to a page", use: "for careful work" },
  { layout: "four", name: "Four steps to a page", use: "for the shop floor" },
  { layout: "six", name: "Six steps to a page", use: "at a glance" },
  { layout: "bands", name: "Words with bands of pictures", use: "for reference" },
];

/** A layout as it is named within a sentence. */
export const layoutName = (layout: Layout) => layouts.find((l) => l.layout === layout)?.name.toLowerCase() ?? "";
