import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { api, expect, Problem } from "../../base/api/client";
import type { components } from "../../base/api/schema";
import { useNotice } from "../../base/ui/notices";
import { useEdited } from "../../base/ui/useEdited";

type House = components["schemas"]["House"];

/** A part of what holds for the whole house, to be changed by itself. */
export function useHouse<P extends "pattern" | "rule" | "frames">(part: P) {
  const notice = useNotice();
  const house = useQuery(ask("/api/house"));
  const edited = useEdited<House[P]>(
    `house ${part}`,
    house.data && { version: house.data.version, value: house.data[part] },
  );
  const save = async (done: string) => {
    try {
      await expect(api.PUT("/api/house", { body: { version: edited.version, [part]: edited.value } }));
      notice({ text: done });
      edited.done();
    } catch (e) {
      notice({ text: reasonOf(e) });
      if (e instanceof Problem && e.status === 409) edited.seen((await house.refetch()).data?.version ?? 0);
    }
  };
  return { ...edited, save };
}
