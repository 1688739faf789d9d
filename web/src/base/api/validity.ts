import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { sayDay } from "../format";
import { type Validity } from "./client";

/** What a printed page is worth. */
export function useValidity(document: string, printed: number) {
  return useQuery({
    ...ask("/api/valid/{document}/{revision}", { path: { document, revision: printed } }),
    enabled: printed > 0,
  });
}

/** The same in words. */
export function validitySaid(v: Validity): { said: string; valid: boolean } {
  const since = v.since ? sayDay(v.since) : "";
  switch (v.state) {
    case "valid":
      return { said: `Your printed page is valid: revision ${v.revision ?? ""}, since ${since}.`, valid: true };
    case "replaced":
      return {
        said: `Your printed page is revision ${v.revision ?? ""}. It was replaced by revision ${v.by ?? ""} on ${since}.`,
        valid: false,
      };
    case "retired":
      return { said: "Your printed page is retired: nobody should follow it any more.", valid: false };
    default:
      return { said: "Nothing is known of this printed page. Do not follow it.", valid: false };
  }
}
