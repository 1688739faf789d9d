import type { Figure } from "../../base/api/client";

/** What is done to a figure, as it is when that is done. */
export type FigureChange = (figure: Figure) => Figure;
