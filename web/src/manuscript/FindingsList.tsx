import type { Finding } from "../api/client";
import type { Numbers } from "../core/core";
import { Button, Panel } from "../ui/controls";
import type { Settle } from "./settle";

/** All that is to settle, by step, each with a way there; and what can be mended for all at once. */
export function FindingsList(props: {
  findings: Finding[];
  numbers: Numbers;
  settle: Settle;
  onGo: (block: string) => void;
  onDone: () => void;
}) {
  const { findings, numbers, settle } = props;
  const rewording = findings.filter((f) => f.to && f.from);
  const jumping = findings.filter((f) => f.rule === "frames-jump");
  const groups = [
    { title: "Must fix", of: findings.filter((f) => f.severity === "must-fix"), look: "text-mustfix" },
    { title: "Worth a look", of: findings.filter((f) => f.severity !== "must-fix"), look: "text-look" },
  ];
  return (
    <Panel wide title="What is to settle" onDone={props.onDone}>
      {(rewording.length > 1 || jumping.length > 0) && (
        <div className="mb-3 flex flex-wrap gap-2">
          {rewording.length > 1 && (
            <Button small onClick={() => settle.reword(rewording)}>
              Take the proposed wording in all {rewording.length} places
            </Button>
          )}
          {jumping.length > 0 && (
            <Button small onClick={() => settle.even()}>
              Give all pictures of a section the same crop
            </Button>
          )}
        </div>
      )}
      <div className="max-h-[60vh] overflow-y-auto">
        {findings.length === 0 && <p className="text-soft">Nothing is to settle.</p>}
        {groups
          .filter((g) => g.of.length > 0)
          .map((g) => (
            <section key={g.title} aria-label={g.title} className="mb-3">
              <h3 className={`font-bold ${g.look}`}>
                {g.title} ({g.of.length})
              </h3>
              <ol>
                {g.of.map((f, i) => (
                  <li key={i}>
                    <button
                      type="button"
                      disabled={!f.block}
                      onClick={() => f.block && props.onGo(f.block)}
                      className="flex w-full gap-3 rounded px-2 py-1 text-left enabled:hover:bg-desk"
                    >
                      <span className="w-8 shrink-0 text-right font-bold">
                        {(f.block && numbers.blocks[f.block]) || "–"}
                      </span>
                      <span>{f.title}</span>
                    </button>
                  </li>
                ))}
              </ol>
            </section>
          ))}
      </div>
      <p className="mt-2 text-sm text-soft">
        On the page, Alt and Page Down lead to the next one, Alt and Page Up back.
      </p>
    </Panel>
  );
}
