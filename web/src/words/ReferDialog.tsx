import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect } from "../api/client";
import { Panel } from "../ui/controls";
import { shown } from "../ui/shown";
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
  const others = useQuery({
    queryKey: ["refer", asked],
    enabled: asked.length > 1,
    queryFn: () => expect(api.GET("/api/search", { params: { query: { text: asked } } })),
  });
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
    <Panel title="Refer to" onDone={() => onDone(undefined)}>
      <input
        autoFocus
        aria-label="What to refer to"
        placeholder="A step, a section, a picture, a mark, or the title of a document"
        className="w-full rounded border border-soft bg-paper px-3 py-2 placeholder:text-soft"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && lines[0]) {
            e.preventDefault();
            onDone(lines[0]);
          }
        }}
      />
      <ul className="mt-2 max-h-72 overflow-y-auto" aria-label="What could be meant">
        {lines.map((t) => (
          <li key={t.kind + t.to}>
            <button
              type="button"
              onClick={() => onDone(t)}
              className="flex w-full gap-3 rounded px-2 py-1.5 text-left hover:bg-desk"
            >
              <span className="w-40 shrink-0 font-bold">{shown(t.name)}</span>
              <span className="min-w-0 truncate text-soft">{shown(t.said)}</span>
            </button>
          </li>
        ))}
        {lines.length === 0 && <li className="px-2 py-1.5 text-soft">Nothing has these words.</li>}
      </ul>
    </Panel>
  );
}
