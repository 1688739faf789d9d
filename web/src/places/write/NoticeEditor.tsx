import { Trash2 } from "lucide-react";
import type { Notice } from "../../base/api/client";
import { NoticePanel, type Signal } from "../../base/ui/NoticePanel";
import { Few } from "../../base/ui/Few";

/** How bad it may end, as the author chooses. */
const meanings: Record<Signal, string> = {
  danger: "Danger: death or serious injury will follow",
  warning: "Warning: death or serious injury is possible",
  caution: "Caution: minor or moderate injury is possible",
  notice: "Notice: things may be damaged, nobody is hurt",
};

const lines: [keyof Omit<Notice, "signal">, string, string][] = [
  ["hazard", "What the hazard is", "The door closes by itself."],
  ["consequence", "What may follow", "Hands can be crushed."],
  ["avoid", "How to avoid it", "Hold the door open with the wedge."],
];

export const emptyNotice: Notice = { signal: "warning", hazard: "", consequence: "", avoid: "" };

/** A notice as it will look, with its three short lines to be written in place. */
export function NoticeEditor(props: { notice: Notice; whose: string; onChange: (notice: Notice | undefined) => void }) {
  const { notice, whose, onChange } = props;
  return (
    <NoticePanel notice={notice}>
      <div className="mb-1 flex items-center gap-2">
        <Few
          label={`How bad it may end, ${whose}`}
          value={notice.signal}
          options={meanings}
          onPick={(signal) => onChange({ ...notice, signal })}
          className="min-w-0 flex-1 rounded border border-soft bg-paper px-1 py-0.5 text-sm"
        />
        <button
          type="button"
          aria-label={`Delete the notice, ${whose}`}
          title="Delete the notice"
          onClick={() => onChange(undefined)}
          className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
        >
          <Trash2 size={16} aria-hidden />
        </button>
      </div>
      {lines.map(([line, label, example]) => (
        <input
          key={line}
          aria-label={`${label}, ${whose}`}
          placeholder={`${label}: ${example}`}
          value={notice[line]}
          maxLength={300}
          onChange={(e) => onChange({ ...notice, [line]: e.target.value })}
          className="block w-full rounded px-1 py-0.5"
        />
      ))}
    </NoticePanel>
  );
}
