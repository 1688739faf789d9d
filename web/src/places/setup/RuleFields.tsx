import type { ApprovalRule, Person } from "../../base/api/client";
import { Choices } from "../../base/ui/Choices";

const counts = [
  [0, "Authors release by themselves"],
  [1, "One person approves"],
  [2, "2 people approve"],
  [3, "3 people approve"],
  [4, "4 people approve"],
  [5, "5 people approve"],
] as const;

/** What is asked for before a revision is released. */
export function RuleFields(props: {
  label: string;
  /** Nothing may be said: then it is as around it. */
  inherits?: boolean;
  rule: ApprovalRule | undefined;
  people: Person[];
  onChange: (rule: ApprovalRule | undefined) => void;
}) {
  const { rule, onChange } = props;
  const tick = (label: string, on: boolean | undefined, change: Partial<ApprovalRule>) => (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="size-4"
        checked={on ?? false}
        onChange={() => rule && onChange({ ...rule, ...change })}
      />
      {label}
    </label>
  );
  return (
    <fieldset className="space-y-1.5">
      <legend className="mb-1 text-sm text-soft">{props.label}</legend>
      <select
        aria-label={props.label}
        value={rule ? String(rule.needed) : ""}
        onChange={(e) =>
          onChange(e.target.value === "" ? undefined : { notAuthor: true, ...rule, needed: Number(e.target.value) })
        }
        className="w-full rounded border border-soft bg-paper px-2 py-1.5"
      >
        {props.inherits && <option value="">As for what lies around it</option>}
        {counts.map(([n, said]) => (
          <option key={n} value={n}>
            {said}
          </option>
        ))}
      </select>
      {rule && rule.needed > 0 && (
        <>
          {tick("Not those who have written it", rule.notAuthor, { notAuthor: !rule.notAuthor })}
          {rule.needed > 1 && tick("One after the other", rule.ordered, { ordered: !rule.ordered })}
          <Choices
            label="May sign besides those whose role is to approve"
            all={props.people}
            chosen={rule.people ?? []}
            onChange={(people) => onChange({ ...rule, people })}
          />
          {(rule.people?.length ?? 0) > 0 && tick("And nobody else", rule.only, { only: !rule.only })}
        </>
      )}
    </fieldset>
  );
}
