import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { PickLine } from "../../base/ui/PickLine";
import { shown } from "../../base/ui/shown";
import type { RefersTo } from "./refer";

const most = 40; // lines

/** Chooses what words refer to: something in the document, or another document. */
export function ReferDialog({
  targets,
  onDone,
}: {
  targets: RefersTo[];
  onDone: (chosen: RefersTo | undefined) => void;
}) {
  const [text, setText] = useState("");
  const asked = text.trim().toLowerCase();
  const near = targets.filter((t) => `${t.name} ${t.said}`.toLowerCase().includes(asked)).slice(0, most);
  const others = useQuery({ ...ask("/api/search", { query: { text: asked } }), enabled: asked.length > 1 });
  const documents = new Map((others.data ?? []).map((h) => [h.document.id, h.document]));
  const lines: RefersTo[] = [
    ...near,
    ...[...documents.values()].map((d) => ({
      kind: "document" as const,
      to: d.id,
      name: d.number ? `${d.number} ${d.title}` : d.title,
      said: "Another document",
    })),
  ];
  return (
    <PickLine
      title="Refer to"
      field="What to refer to"
      hint="A step, a section, a picture, a mark, or the title of a document"
      list="What could be meant"
      text={text}
      onText={setText}
      none="Nothing has these words."
      onCancel={() => onDone(undefined)}
      lines={lines.map((t) => ({
        key: t.kind + t.to,
        choose: () => onDone(t),
        look: (
          <>
            <span className="w-40 shrink-0 font-bold">{shown(t.name)}</span>
            <span className="min-w-0 truncate text-soft">{shown(t.said)}</span>
          </>
        ),
      }))}
    />
  );
}
