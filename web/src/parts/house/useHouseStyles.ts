import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type Facts, type KeptStyle } from "../../base/api/client";

/** The house styles, those that ship first. */
export const useHouseStyles = () => useQuery({ ...ask("/api/housestyles"), staleTime: 60_000 });

/** The style of a document among all; one that is gone is the usual one. */
export const styleOf = (styles: KeptStyle[] | undefined, facts: Facts) =>
  styles?.find((s) => s.id === facts.style) ?? styles?.find((s) => s.usual) ?? styles?.[0];
