/** What a template can ask for, by what it belongs to. docs/templates.md tells of each. */
const fields: [string, string][] = [
  [
    "The document",
    ".Title .Kind .Language .Meta .Address .Draft .Notice .Signal .Manual .Contents .Blocks .Colors .Words .Fields",
  ],
  [".Fields", ".number .revision .state .date .effective .review .owner .author .approver .classification .house"],
  ["Each of .Contents", ".ID .Number .Title .Depth .Heads"],
  [
    "Each of .Blocks",
    ".ID .Type .Heading .Step .Depth .Number .Title .HTML .Text .Notice .Critical .Time .Links .Pictures .Under .Before .After",
  ],
  [".Notice", ".Signal .Word .Lines"],
  ["Each of .Pictures", ".ID .Src .Alt .Caption .Number"],
  ["Each of .Links", ".Said .Address .Inside"],
  [".Colors", ".Text .Soft .Line .Accent .Shade"],
];

/** A list of them, folded away. */
export function Fields() {
  return (
    <details className="shrink-0 border-t border-line px-4 py-2 text-sm">
      <summary className="cursor-pointer text-action">What can stand in it</summary>
      <dl className="max-h-48 overflow-y-auto" tabIndex={0} aria-label="What can stand in it">
        {fields.map(([of, names]) => (
          <div key={of} className="py-1">
            <dt className="font-bold">{of}</dt>
            <dd className="font-mono text-[0.8rem]">{names}</dd>
          </div>
        ))}
      </dl>
      <p className="py-1 text-soft">
        {"{{.Title}}, {{range .Blocks}} … {{end}}, {{if .Notice}} … {{end}}, {{with .Time}}{{.}}{{end}}. "}
        Nothing is fetched from elsewhere; script runs only where an administrator allows it.
      </p>
    </details>
  );
}
