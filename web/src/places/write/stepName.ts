import { core, type Numbers } from "../../base/core/core";
import type { Row } from "../../parts/document/model";

/** A step, a passage or an answer as it is spoken of. */
export const nameOf = (row: Row, numbers: Numbers) =>
  row.content.asks
    ? `“${core.questions()[row.content.asks]?.said ?? ""}”`
    : row.content.type === "passage"
      ? `the passage “${core.label(row.content)}”`
      : `step ${numbers.blocks[row.id] ?? ""}`;
