import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type Mark } from "../api/client";
import { stage, type View } from "../core/core";
import { Actions, AskDialog, type Choice } from "../ui/controls";
import { useNotice } from "../ui/notices";

const fields = [
  "ink",
  "weight",
  "auto",
  "opacity",
  "corner",
  "dash",
  "shadow",
  "fill",
  "size",
  "align",
  "plate",
  "way",
  "heads",
  "count",
  "look",
  "zoom",
] as const;

/** The style of a mark, every field said, so that applying it leaves nothing of another. */
const styleOf = (mark: Mark) => ({
  ...Object.fromEntries(
    fields.map((f) => [
      f,
      mark[f] ?? { opacity: 0, corner: 0, size: 0, zoom: 0, auto: false, shadow: false }[f as string] ?? "",
    ]),
  ),
  ink: mark.ink,
  weight: mark.weight,
});

/** The team's named styles for the kind of the chosen marks. */
export function Styles(props: {
  view: View;
  marks: Mark[];
  onTake: (view: View, label?: string) => void;
  /** Applies a style to all marks of a kind in the document. */
  onAll?: (kind: string, style: object) => void;
}) {
  const { view, onTake, onAll } = props;
  const client = useQueryClient();
  const notice = useNotice();
  const [naming, setNaming] = useState(false);
  const list = useQuery({ queryKey: ["styles"], queryFn: () => expect(api.GET("/api/styles")), staleTime: 60_000 });
  const chosen = props.marks.filter((m) => view.chosen.includes(m.id));
  const mark = view.selected ?? chosen[0];
  if (!mark || chosen.some((m) => m.kind !== mark.kind)) return null;
  const mine = (list.data ?? []).filter((s) => s.kind === mark.kind);
  const add = async (name: string) => {
    try {
      await expect(api.POST("/api/styles", { body: { name, kind: mark.kind, style: styleOf(mark) } }));
      notice({ text: `“${name}” is a style of the team now.` });
    } catch (e) {
      notice({ text: (e as Error).message });
    }
    void client.invalidateQueries({ queryKey: ["styles"] });
  };
  const forget = async (id: string) => {
    try {
      await expect(api.DELETE("/api/styles/{style}", { params: { path: { style: id } } }));
    } catch (e) {
      notice({ text: (e as Error).message });
    }
    void client.invalidateQueries({ queryKey: ["styles"] });
  };
  const choices: Choice[] = [
    ...mine.map((s) => ({
      label: s.name,
      run: () => onTake(stage.patch({ ...s.style, auto: s.style.auto ?? false }), `Apply the style ${s.name}`),
    })),
    ...(mine.length > 0 ? ["line" as const] : []),
    { label: "Name this look for the team …", run: () => setNaming(true) },
    ...(onAll ? [{ label: "Give all such marks this look", run: () => onAll(mark.kind, styleOf(mark)) }] : []),
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
          title="Name this look"
          label="What the team calls it"
          initial=""
          confirm="Keep it"
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
