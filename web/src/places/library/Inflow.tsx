import { begin } from "../../parts/account/begin";
import type { Account } from "../../base/api/client";
import { useInflow } from "../../parts/capture/useInflow";

/** Pictures that are pasted or dropped on a screen without a place for them are to be placed later. */
export default function Inflow({ account }: { account: Account }) {
  begin(account);
  useInflow(true);
  return null;
}
