import { type ReactNode, useContext } from "react";
import type { Content, Tags } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { Refer } from "./refer";

// The text model as it comes from the server; docs/text-model.md describes it.
export type Node = {
  type: string;
  text?: string;
  marks?: { type: string; attrs?: { href?: string } }[];
  attrs?: { mark?: string; to?: string; kind?: string };
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
      case "table":
        return (
          <table key={i}>
            <tbody>{render(n.content, markers)}</tbody>
          </table>
        );
      case "tableRow":
        return <tr key={i}>{render(n.content, markers)}</tr>;
      case "tableCell":
        return <td key={i}>{render(n.content, markers)}</td>;
      case "tableHeader":
        return <th key={i}>{render(n.content, markers)}</th>;
      case "reference":
        return <Reference key={i} kind={n.attrs?.kind ?? ""} to={n.attrs?.to ?? ""} />;
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

function Reference({ kind, to }: { kind: string; to: string }) {
  const { names, href } = useContext(Refer);
  const address = href?.(kind, to);
  const name = shown(names[to] ?? "?");
  return address ? (
    <a className="reference" href={address}>
      {name}
    </a>
  ) : (
    <span className="reference">{name}</span>
  );
}

/** A step's words, to be read. */
export function WordsView({ words, markers }: { words: Content["words"]; markers: Tags }) {
  return <div className="words">{render(words.content, markers)}</div>;
}
