import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type Summary } from "../api/client";
import { Panel } from "./controls";
import { shown } from "./shown";

/** Chooses a document by a few letters of its title or number. */
export function PickDocument(props: {
  title: string;
  kind?: "procedure" | "manual";
  without?: string[];
  onDone: (chosen: Summary | undefined) => void;
}) {
  const [text, setText] = useState("");
  const found = useQuery({
    queryKey: ["pick", text.trim(), props.kind],
    queryFn: () => expect(api.GET("/api/search", { params: { query: { text: text.trim(), kind: props.kind } } })),
    placeholderData: keepPreviousData,
  });
  const documents = [...new Map((found.data ?? []).map((h) => [h.document.id, h.document])).values()].filter(
    (d) => !props.without?.includes(d.id),
  );
  return (
    <Panel title={props.title} onDone={() => props.onDone(undefined)}>
      <input
        autoFocus
        aria-label="Title or number"
        placeholder="Title or number"
        className="w-full rounded border border-soft bg-paper px-3 py-2 placeholder:text-soft"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && documents[0]) {
            e.preventDefault();
            props.onDone(documents[0]);
          }
        }}
      />
      <ul className="mt-2 max-h-72 overflow-y-auto" aria-label="Documents">
        {documents.map((d) => (
          <li key={d.id}>
            <button
              type="button"
              onClick={() => props.onDone(d)}
              className="flex w-full gap-3 rounded px-2 py-1.5 text-left hover:bg-desk"
            >
              <span className="min-w-0 flex-1 truncate font-bold">
                {d.number ? `${shown(d.number)} ` : ""}
                {shown(d.title)}
              </span>
              <span className="text-soft">
                {d.state === "retired" ? "Retired" : d.revision > 0 ? `Revision ${d.said}` : "Draft"}
              </span>
            </button>
          </li>
        ))}
        {found.data && documents.length === 0 && (
          <li className="px-2 py-1.5 text-soft">No document has these words.</li>
        )}
      </ul>
    </Panel>
  );
}
