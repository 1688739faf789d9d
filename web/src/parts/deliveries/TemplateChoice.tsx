import type { Format } from "../../base/api/client";
import { Select } from "../../base/ui/Select";

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
      <Select
        label="Template"
        value={props.value}
        onChange={props.onChoose}
        options={form.templates.map((t) => ({ value: t.name, name: t.title }))}
      />
    </label>
  );
}
