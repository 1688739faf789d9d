import { ask } from "../../base/api/ask";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Summary } from "../api/client";
import { isSent } from "../api/kinds";
import { PickLine } from "./PickLine";
import { shown } from "./shown";

/** Chooses a document that is not retired by a few letters of its title or number. */
export function PickDocument(props: {
  title: string;
  kind?: "procedure" | "manual" | "answer";
  without?: string[];
  onDone: (chosen: Summary | undefined) => void;
}) {
  const [text, setText] = useState("");
  const found = useQuery({
    ...ask("/api/search", { query: { text: text.trim(), kind: props.kind } }),
    placeholderData: keepPreviousData,
  });
  const documents = [...new Map((found.data ?? []).map((h) => [h.document.id, h.document])).values()].filter(
    (d) => d.state !== "retired" && !props.without?.includes(d.id),
  );
  return (
    <PickLine
      title={props.title}
      field="Title or number"
      hint="Title or number"
      list="Documents"
      text={text}
      onText={setText}
      none={found.data !== undefined && "No document has these words."}
      onCancel={() => props.onDone(undefined)}
      lines={documents.map((d) => ({
        key: d.id,
        choose: () => props.onDone(d),
        look: (
          <>
            <span className="min-w-0 flex-1 truncate font-bold">
              {d.number ? `${shown(d.number)} ` : ""}
              {shown(d.title)}
            </span>
            <span className="text-soft">{d.revision > 0 ? `Revision ${d.said}` : isSent(d.kind) ? "" : "Draft"}</span>
          </>
        ),
      }))}
    />
  );
}
