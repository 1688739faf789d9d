import type { Format } from "../../base/api/client";
import { shown } from "../../base/ui/shown";

/** Which template a form has; nothing where there is no choice. */
export function TemplateChoice(props: {
  form: Format | undefined;
  value: string;
  onChoose: (template: string) => void;
}) {
  const { form } = props;
  if (!form || form.templates.length === 0) return null;
  return (
    <label className="flex items-center gap-2">
      Template
      <select
        value={props.value}
        onChange={(e) => props.onChoose(e.target.value)}
        className="min-w-0 rounded border border-soft bg-paper px-2 py-1"
      >
        {form.templates.map((t) => (
          <option key={t.name} value={t.name}>
            {shown(t.title)}
          </option>
        ))}
      </select>
    </label>
  );
}
