import type { ReactNode } from "react";
import type { Content, Tags } from "../api/client";
import { shown } from "../ui/shown";

// The text model as it comes from the server; docs/text-model.md describes it.
export type Node = {
  type: string;
  text?: string;
  marks?: { type: string; attrs?: { href?: string } }[];
  attrs?: { mark?: string };
  content?: Node[];
};

function style(node: Node, key: number): ReactNode {
  let out: ReactNode = node.text && shown(node.text);
  for (const m of node.marks ?? []) {
    if (m.type === "bold") out = <strong>{out}</strong>;
    else if (m.type === "italic") out = <em>{out}</em>;
    else if (m.type === "code") out = <code>{out}</code>;
    else if (m.type === "keycap") out = <kbd>{out}</kbd>;
    else if (m.type === "control") out = <span className="control">{out}</span>;
    else if (m.type === "link")
      out = (
        <a href={m.attrs?.href} target="_blank" rel="noopener noreferrer nofollow">
          {out}
        </a>
      );
  }
  return <span key={key}>{out}</span>;
}

function render(nodes: Node[] | undefined, markers: Tags): ReactNode[] {
  return (nodes ?? []).map((n, i) => {
    switch (n.type) {
      case "paragraph":
        return <p key={i}>{n.content ? render(n.content, markers) : <br />}</p>;
      case "bulletList":
        return <ul key={i}>{render(n.content, markers)}</ul>;
      case "orderedList":
        return <ol key={i}>{render(n.content, markers)}</ol>;
      case "listItem":
        return <li key={i}>{render(n.content, markers)}</li>;
      case "hardBreak":
        return <br key={i} />;
      case "markerRef": {
        const tag = markers[n.attrs?.mark ?? ""];
        return (
          <span key={i} className="marker-ref" style={{ background: tag?.ink, color: tag?.on }}>
            {tag?.label ?? "?"}
          </span>
        );
      }
      default:
        return style(n, i);
    }
  });
}

/** A step's words, to be read. */
export function WordsView({ words, markers }: { words: Content["words"]; markers: Tags }) {
  return <div className="words">{render((words as Node).content, markers)}</div>;
}
