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
