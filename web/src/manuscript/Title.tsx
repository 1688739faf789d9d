import { useState } from "react";
import { Button } from "../ui/controls";
import type { Draft } from "./draft";

export function Title({ draft }: { draft: Draft }) {
  const [text, setText] = useState<string>();
  const done = () => {
    if (text?.trim()) draft.rename(text.trim());
    setText(undefined);
  };
  return (
    <div className="border-b border-line bg-paper px-5 py-4">
      <input
        aria-label="Title"
        maxLength={200}
        value={text ?? draft.title}
        onChange={(e) => setText(e.target.value)}
        onBlur={done}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        className="w-full rounded text-2xl font-bold"
      />
      {draft.blocks().some((r) => r.content.type === "section") && (
        <label className="mt-1 flex items-center gap-2 text-sm text-soft">
          Steps are counted
          <select
            value={draft.facts.counting ?? ""}
            onChange={(e) =>
              draft.setFacts("Count steps otherwise", {
                ...draft.facts,
                counting: e.target.value === "section" ? "section" : undefined,
              })
            }
            className="rounded border border-soft bg-paper px-1 py-0.5 text-ink"
          >
            <option value="">through the document</option>
            <option value="section">from 1 in each section</option>
          </select>
        </label>
      )}
      {draft.factsConflict && (
        <div role="alert" className="mt-2 border-l-[3px] border-mustfix pl-3">
          <p>Someone else changed the title to “{draft.factsConflict.title}”.</p>
          <Button onClick={() => draft.settleFacts("mine")}>Use mine</Button>{" "}
          <Button onClick={() => draft.settleFacts("theirs")}>Use theirs</Button>
        </div>
      )}
    </div>
  );
}
