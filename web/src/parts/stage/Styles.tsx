import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type Figure } from "../../base/api/client";
import { core, type View } from "../../base/core/core";
import { useStageCore } from "./core";
import type { Seen } from "./useStage";
import { Actions, AskDialog, type Choice } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";

/** The team's named styles for the kind of the chosen marks. */
export function Styles(props: {
  view: Seen;
  marks: Figure["marks"];
  onTake: (view: View, label?: string) => void;
  /** Applies a style to all marks of a kind in the document. */
  onAll?: (kind: string, style: object) => void;
}) {
  const stage = useStageCore();
  const { view, onTake, onAll } = props;
  const notice = useNotice();
  const [naming, setNaming] = useState(false);
  const list = useQuery({ ...ask("/api/styles"), staleTime: 60_000 });
  const chosen = props.marks.filter((m) => view.chosen.includes(m.id));
  const mark = view.selected ?? chosen[0];
  if (!mark || chosen.some((m) => m.kind !== mark.kind)) return null;
  const mine = (list.data ?? []).filter((s) => s.kind === mark.kind);
  const add = async (name: string) => {
    try {
      await expect(api.POST("/api/styles", { body: { name, kind: mark.kind, style: core.styleOf(mark) } }));
      notice({ text: `“${name}” is a style of the team now.` });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const forget = async (id: string) => {
    try {
      await expect(api.DELETE("/api/styles/{style}", { params: { path: { style: id } } }));
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const choices: Choice[] = [
    ...mine.map((s) => ({
      label: s.name,
      run: () => onTake(stage.setStyle(s.style), `Apply the style ${s.name}`),
    })),
    ...(mine.length > 0 ? ["line" as const] : []),
    { label: "Name this style for the team …", run: () => setNaming(true) },
    ...(onAll ? [{ label: "Give all such marks this style", run: () => onAll(mark.kind, core.styleOf(mark)) }] : []),
    ...(mine.length > 0 ? ["line" as const] : []),
    ...mine.map((s) => ({ label: `Forget “${s.name}”`, run: () => void forget(s.id), danger: true })),
  ];
  return (
    <>
      <Actions
        label="Styles"
        className="rounded border border-line bg-paper px-2 py-0.5 text-sm hover:border-soft"
        choices={choices}
      >
        Styles …
      </Actions>
      {naming && (
        <AskDialog
          title="Name this style"
          label="What the team calls it"
          initial=""
          confirm="Save"
          check={(t) => (t && t.length <= 100 ? "" : "Use 1 to 100 characters.")}
          onDone={(name) => {
            setNaming(false);
            if (name) void add(name);
          }}
        />
      )}
    </>
  );
}
