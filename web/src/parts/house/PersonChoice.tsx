import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Select } from "../../base/ui/Select";

/**
 * Chooses one of the house's people by name. A name that came in with a document from elsewhere stays until another is
 * chosen.
 */
export function PersonChoice(props: {
  label: string;
  value: string | undefined;
  onChange: (name: string | undefined) => void;
}) {
  const people = useQuery(ask("/api/people"));
  const names = people.data?.map((p) => p.name) ?? [];
  const { value = "" } = props;
  const stranger = value !== "" && people.data && !names.includes(value);
  return (
    <Select
      label={props.label}
      className="w-full"
      value={value}
      options={[
        { value: "", name: "Nobody" },
        ...(value !== "" && !names.includes(value)
          ? [{ value, name: value, about: stranger ? "Has no account here" : undefined }]
          : []),
        ...names.map((name) => ({ value: name, name })),
      ]}
      onChange={(name) => props.onChange(name || undefined)}
    />
  );
}
