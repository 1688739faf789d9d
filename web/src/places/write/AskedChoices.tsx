import { plain } from "../../base/api/content";
import { core } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import type { Row } from "../../parts/document/model";
import { useDesk } from "./desk";

/** What most answers to a question are: a press writes one. */
export function AskedChoices({ row, choices }: { row: Row; choices: string[] }) {
  const { actions } = useDesk();
  if (choices.length === 0) return null;
  const said = core.label(row.content);
  return (
    <div className="my-1 flex flex-wrap gap-1">
      {choices.map((choice) => (
        <Button
          key={choice}
          small
          aria-pressed={said === choice}
          className="aria-pressed:border-action aria-pressed:bg-action aria-pressed:text-paper"
          onClick={() =>
            actions.change(row.id, "Answer a question", (c) => ({ ...c, words: plain(said === choice ? "" : choice) }))
          }
        >
          {choice}
        </Button>
      ))}
    </div>
  );
}
