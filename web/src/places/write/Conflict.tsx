import type { Content } from "../../base/api/client";
import { core, type Numbers } from "../../base/core/core";
import { Button } from "../../base/ui/controls";
import { NoticePanel } from "../../base/ui/NoticePanel";
import { WordsView } from "../../parts/words/WordsView";
import type { Known } from "../../parts/document/model";

/** Someone else changed the block meanwhile: both are shown, a person chooses. */
export function Conflict({
  number,
  numbers,
  mine,
  theirs,
  settle,
}: {
  number: string;
  numbers: Numbers;
  mine: Content;
  theirs: Known;
  settle: (choice: "mine" | "theirs") => void;
}) {
  const what = mine.type;
  const sides = [
    { title: "Yours", choice: "mine" as const, content: mine, removed: false },
    {
      title: theirs.by ? `By ${theirs.by}` : "Theirs",
      choice: "theirs" as const,
      content: theirs.content,
      removed: theirs.removed,
    },
  ];
  return (
    <section
      role="alert"
      aria-label={`Two versions of ${what} ${number}`}
      className="border-l-[3px] border-mustfix pl-3"
    >
      <p className="font-bold">
        {theirs.by ?? "Someone"} changed this {what} too
      </p>
      <p className="mb-2 text-sm text-soft">Both versions are kept. Choose one; undo brings the other back.</p>
      {sides.map((s) => (
        <div key={s.title} className="mb-2 rounded border border-line bg-paper p-2.5">
          <p className="text-sm font-bold text-soft">{s.title}</p>
          {s.removed ? (
            <p>The {what} was deleted.</p>
          ) : (
            <>
              {s.content.notice && <NoticePanel notice={s.content.notice} />}
              <WordsView words={s.content.words} markers={core.tags(s.content.figures, numbers)} />
              {what === "step" && (
                <p className="mt-1 text-sm text-soft">
                  {s.content.figures.length === 1 ? "1 picture" : `${s.content.figures.length} pictures`},{" "}
                  {s.content.figures.reduce((n, f) => n + f.marks.length, 0)} marks
                  {s.content.seconds ? `, ${core.sayTime(s.content.seconds)}` : ""}
                </p>
              )}
            </>
          )}
          <Button className="mt-2" onClick={() => settle(s.choice)}>
            {s.choice === "mine" ? "Use mine" : "Use theirs"}
          </Button>
        </div>
      ))}
    </section>
  );
}
