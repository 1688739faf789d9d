import { begin } from "../account/begin";
import type { Account } from "../api/client";
import { useInflow } from "./useInflow";

/** Pictures that are pasted or dropped on a screen without a place for them are to be placed later. */
export default function Inflow({ account }: { account: Account }) {
  begin(account);
  useInflow(true);
  return null;
}
