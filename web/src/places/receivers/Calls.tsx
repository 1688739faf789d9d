import type { Receiver } from "../../base/api/client";
import { Button, Field } from "../../base/ui/controls";
import { Secret } from "./ReceiverForm";

type Reached = Receiver["reached"];
type Call = NonNullable<Reached["make"]>;

/** The requests by which a receiver is reached over the web, and where its answers say what was made. */
export function Calls(props: { reached: Reached; anew: boolean; onChange: (part: Partial<Reached>) => void }) {
  const { reached, anew, onChange } = props;
  const headers = reached.header ?? [];
  return (
    <div className="space-y-4">
      <p className="text-sm text-soft">
        {"{title}, {text}, {sender}, {link}, {id} and {number} are filled in, each written so that it stays a value."}
      </p>
      <One name="To make a thing" call={reached.make} body onChange={(make) => onChange({ make })} />
      <One
        name="To change it when it is sent again"
        call={reached.change}
        body
        onChange={(change) => onChange({ change })}
      />
      <One name="To send a file to it" call={reached.file} field onChange={(file) => onChange({ file })} />
      <One name="To ask whether files are taken now" call={reached.ask} onChange={(ask) => onChange({ ask })} />
      <div className="grid gap-3 sm:grid-cols-3">
        <Field
          label="Its number, in the answer"
          value={reached.number ?? ""}
          onChange={(number) => onChange({ number })}
        />
        <Field label="Its page" value={reached.link ?? ""} onChange={(link) => onChange({ link })} />
        <Field label="Whether files are taken" value={reached.files ?? ""} onChange={(files) => onChange({ files })} />
      </div>
      <fieldset className="space-y-2">
        <legend className="text-sm text-soft">Headers of every request</legend>
        {headers.map((h, i) => {
          const set = (part: Partial<typeof h>) =>
            onChange({ header: headers.map((o, k) => (k === i ? { ...h, ...part } : o)) });
          return (
            <div key={i} className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)_auto_auto] items-end gap-2">
              <Field label="Name" value={h.name} onChange={(name) => set({ name })} />
              {h.secret ? (
                <Secret label="Value" anew={anew} value={h.value} onChange={(value) => set({ value })} />
              ) : (
                <Field label="Value" value={h.value} onChange={(value) => set({ value })} />
              )}
              <label className="flex items-center gap-1.5 pb-2">
                <input
                  type="checkbox"
                  checked={h.secret ?? false}
                  onChange={(e) => set({ secret: e.target.checked })}
                />
                Secret
              </label>
              <Button
                aria-label={`Remove the header ${h.name}`}
                onClick={() => onChange({ header: headers.filter((_, k) => k !== i) })}
              >
                Remove
              </Button>
            </div>
          );
        })}
        <Button small onClick={() => onChange({ header: [...headers, { name: "", value: "", secret: true }] })}>
          Add a header
        </Button>
      </fieldset>
    </div>
  );
}

/** One request: its method and address, and what it carries. */
function One(props: {
  name: string;
  call: Call | undefined;
  body?: boolean;
  field?: boolean;
  onChange: (call: Call) => void;
}) {
  const { name, call = {}, body, field, onChange } = props;
  const set = (part: Partial<Call>) => onChange({ ...call, ...part });
  return (
    <fieldset>
      <legend className="mb-1 text-sm font-bold">{name}</legend>
      <div className="grid grid-cols-[6rem_minmax(0,1fr)] gap-2">
        <select
          aria-label={`Method. ${name}`}
          value={call.method ?? ""}
          onChange={(e) => set({ method: e.target.value })}
          className="rounded border border-soft bg-paper px-2"
        >
          <option value="">usual</option>
          {["GET", "POST", "PUT", "PATCH"].map((m) => (
            <option key={m}>{m}</option>
          ))}
        </select>
        <input
          aria-label={`Address. ${name}`}
          placeholder="https://"
          value={call.address ?? ""}
          onChange={(e) => set({ address: e.target.value })}
          className="rounded border border-soft bg-paper px-2 py-1.5 font-mono text-sm placeholder:text-soft"
        />
        {field && (
          <label className="col-span-2 flex items-center gap-2 text-sm text-soft">
            Its field in the form
            <input
              value={call.type ?? ""}
              onChange={(e) => set({ type: e.target.value })}
              className="rounded border border-soft bg-paper px-2 py-1 font-mono text-ink"
            />
          </label>
        )}
        {body && (
          <>
            <input
              aria-label={`Media type. ${name}`}
              placeholder="application/json, if nothing else is said"
              value={call.type ?? ""}
              onChange={(e) => set({ type: e.target.value })}
              className="col-span-2 rounded border border-soft bg-paper px-2 py-1 font-mono text-sm placeholder:text-soft"
            />
            <textarea
              aria-label={`Body. ${name}`}
              rows={2}
              spellCheck={false}
              value={call.body ?? ""}
              onChange={(e) => set({ body: e.target.value })}
              className="col-span-2 rounded border border-soft bg-paper px-2 py-1 font-mono text-sm"
            />
          </>
        )}
      </div>
    </fieldset>
  );
}
