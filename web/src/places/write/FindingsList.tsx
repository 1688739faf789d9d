import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";
import type { Finding } from "../../base/api/client";
import type { Numbers } from "../../base/core/core";
import { Button, Panel } from "../../base/ui/controls";
import { type Kind, kindsOf } from "../../parts/document/kindsOf";
import type { Settle } from "../../parts/document/settle";

type Props = {
  findings: Finding[];
  numbers: Numbers;
  settle: Settle;
  onGo: (block: string) => void;
  onDone: () => void;
};

/** All that is to settle, each kind on one line that unfolds to the steps; all at once where one act settles them. */
export function FindingsList(props: Props) {
  const kinds = kindsOf(props.findings);
  return (
    <Panel wide title="What is to settle" onDone={props.onDone}>
      <ul className="max-h-[60vh] divide-y divide-line overflow-y-auto">
        {kinds.length === 0 && <li className="text-soft">Nothing is to settle.</li>}
        {kinds.map((kind) => (
          <OneKind key={kind.rule} {...props} kind={kind} />
        ))}
      </ul>
      <p className="mt-2 text-sm text-soft">
        Each stands beside its step, too: Alt and Page Down lead to the next one, Alt and Page Up back.
      </p>
    </Panel>
  );
}

function OneKind({ kind, numbers, settle, onGo }: Props & { kind: Kind }) {
  const [open, setOpen] = useState(false);
  const { of, must, rule } = kind;
  const [only] = of;
  const one = of.length === 1;
  const worded = of.filter((f) => f.to);
  return (
    <li className="py-1.5">
      <div className="flex items-center gap-2">
        <span className={`w-28 shrink-0 text-sm font-bold ${must ? "text-mustfix" : "text-look"}`}>
          {must ? "Must fix" : "Worth a look"}
        </span>
        <button
          type="button"
          aria-expanded={one ? undefined : open}
          disabled={one && !only?.block}
          onClick={() => (one ? only?.block && onGo(only.block) : setOpen(!open))}
          className="flex min-w-0 flex-1 items-center gap-1 rounded px-1 py-0.5 text-left enabled:hover:bg-desk"
        >
          {!one && (open ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />)}
          <span className="min-w-0">
            {one && only?.block && numbers.blocks[only.block] && <b>{numbers.blocks[only.block]} </b>}
            {kind.title}
          </span>
        </button>
        {worded.length > 1 && (
          <Button small onClick={() => settle.reword(worded)}>
            Take the proposed wording in all {worded.length}
          </Button>
        )}
        {rule === "frames-jump" && (
          <Button small onClick={() => settle.even()}>
            Same crop for all
          </Button>
        )}
      </div>
      {open && (
        <ol className="mt-1 ml-30">
          {of.map((f, i) => (
            <li key={i}>
              <button
                type="button"
                disabled={!f.block}
                onClick={() => f.block && onGo(f.block)}
                className="flex w-full gap-3 rounded px-2 py-0.5 text-left enabled:hover:bg-desk"
              >
                <span className="w-8 shrink-0 text-right font-bold">{(f.block && numbers.blocks[f.block]) || "–"}</span>
                <span>{f.title}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
    </li>
  );
}
