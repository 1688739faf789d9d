import { useSearchParams } from "react-router";
import type { Finding } from "../../base/api/client";
import type { Numbers } from "../../base/core/core";
import { UseAnswer } from "../../parts/answers/UseAnswer";
import type { Row } from "../../parts/document/model";
import type { Settle } from "../../parts/document/settle";
import { SendTo } from "../../parts/receivers/SendTo";
import { useDesk } from "./desk";
import { FindingsList } from "./FindingsList";
import { History } from "./History";
import { Linking, type Links } from "./Linking";

/** What is asked or shown over the manuscript; one at a time. */
export type Over = "history" | "sending" | "using" | "findings" | { links: Links };

export function Dialogs(props: {
  over: Over;
  rows: Row[];
  numbers: Numbers;
  findings: Finding[];
  settle: Settle;
  onGo: (block: string) => void;
  onDone: () => void;
}) {
  const { over, rows, numbers, findings, settle, onGo, onDone } = props;
  const { id, draft } = useDesk();
  const [search] = useSearchParams();
  const saved = draft.status.kind === "saved";
  if (typeof over === "object") return <Linking rows={rows} what={over.links} onDone={onDone} />;
  switch (over) {
    case "using":
      return <UseAnswer id={id} onDone={onDone} />;
    case "sending":
      return (
        <SendTo
          id={id}
          seq={draft.seen}
          saved={saved}
          findings={findings}
          to={search.get("send") ?? undefined}
          onDone={onDone}
        />
      );
    case "history":
      return <History document={id} title={draft.title} seq={draft.seen} settled={saved} onDone={onDone} />;
    case "findings":
      return (
        <FindingsList
          findings={findings}
          numbers={numbers}
          settle={settle}
          onGo={(block) => {
            onDone();
            requestAnimationFrame(() => onGo(block));
          }}
          onDone={onDone}
        />
      );
  }
}
