import { useQuery } from "@tanstack/react-query";
import { api, expect } from "../api/client";
import { core } from "../core/core";
import type { Draft } from "../manuscript/draft";
import { Button } from "../ui/controls";
import { shown } from "../ui/shown";
import { unnamed } from "./begin";

const lookEvery = 3000; // milliseconds
const looks = 12;

/** A title for a report that has none yet, from the error that stands in its picture, once the picture was read. */
export function Proposed({ draft }: { draft: Draft }) {
  const shot = draft.blocks().find((r) => r.content.figures.length > 0)?.content.figures[0]?.shot;
  const wanted = draft.kind === "report" && draft.title === unnamed.report && shot !== undefined;
  const taken = useQuery({
    queryKey: ["shot", shot],
    enabled: wanted,
    refetchInterval: (q) =>
      (q.state.data?.words?.length ?? 0) > 0 || q.state.dataUpdateCount > looks ? false : lookEvery,
    queryFn: () => expect(api.GET("/api/shots/{shot}/about", { params: { path: { shot: shot ?? "" } } })),
  });
  if (!wanted || !taken.data?.words?.length) return null;
  const { title } = core.faultOf(taken.data.words, taken.data.about, []);
  if (!title) return null;
  return (
    <Button small look="quiet" onClick={() => draft.rename(title)}>
      Call it “{shown(title)}”
    </Button>
  );
}
