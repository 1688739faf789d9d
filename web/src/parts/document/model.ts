import type { BlockState } from "../../base/storage/storage";

/** A block as the server has it. */
export type Known = BlockState & { version: number; by?: string };

export type Row = { id: string } & BlockState;

export type Status =
  | { kind: "saved"; at?: Date }
  | { kind: "saving" }
  | { kind: "kept"; why: string } // not on the server yet, kept in this browser
  | { kind: "conflict" }
  | { kind: "refused" }; // the server does not take some of it as it is
