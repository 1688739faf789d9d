import { type ReactNode, useState } from "react";
import type { Receiver } from "../../base/api/client";
import { useHouseStyles } from "../../parts/house/useHouseStyles";
import { Button, Field, Panel } from "../../base/ui/controls";
import { Toggles } from "../../base/ui/toggles";
import { Calls } from "./Calls";
import { forms, ways } from "../../parts/receivers/model";
import { keysOf } from "../../base/typed";

type Props = {
  initial: Receiver;
  anew: boolean;
  busy: boolean;
  error: Error | null;
  onSave: (receiver: Receiver) => void;
  onDone: () => void;
};

const kinds = {
  "image/png": "PNG",
  "image/jpeg": "JPEG",
  "image/webp": "WebP",
  "image/gif": "GIF",
  "video/mp4": "MP4, of clips",
};

/** How a receiver is reached, and what it takes. */
export function ReceiverForm({ initial, anew, busy, error, onSave, onDone }: Props) {
  const [r, setR] = useState(initial);
  const styles = useHouseStyles();
  const { takes, reached } = r;
  const take = (part: Partial<Receiver["takes"]>) => setR({ ...r, takes: { ...takes, ...part } });
  const reach = (part: Partial<Receiver["reached"]>) => setR({ ...r, reached: { ...reached, ...part } });
  const types = keysOf(kinds);
  return (
    <Panel title={anew ? "Add a receiver" : `Change “${initial.name}”`} wide onDone={onDone}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          onSave(r);
        }}
      >
        <Field label="What it is called" value={r.name} onChange={(name) => setR({ ...r, name })} autoFocus />
        <div>
          <span className="mb-1 block text-sm text-soft">How it is reached</span>
          <Toggles label="How it is reached" value={r.way} options={ways} onPick={(way) => setR({ ...r, way })} />
        </div>
        {r.way === "http" && <Calls reached={reached} anew={anew} onChange={reach} />}
        {r.way === "mail" && <Field label="E-mail address" value={reached.to ?? ""} onChange={(to) => reach({ to })} />}
        {r.way === "webdav" && (
          <>
            <Field
              label="Address of the folder"
              value={reached.address ?? ""}
              onChange={(address) => reach({ address })}
            />
            <Field label="Name to sign in with" value={reached.name ?? ""} onChange={(name) => reach({ name })} />
            <Secret
              label="Password"
              anew={anew}
              value={reached.password ?? ""}
              onChange={(password) => reach({ password })}
            />
          </>
        )}
        {r.way === "folder" && (
          <Field
            label="Name of the place, as the configuration has it"
            value={reached.place ?? ""}
            onChange={(place) => reach({ place })}
          />
        )}
        <fieldset className="space-y-3 border-t border-line pt-3">
          <legend className="sr-only">What it takes</legend>
          <p className="font-bold">What it takes</p>
          <Row label="Text">
            <Toggles small label="Text" value={takes.text} options={forms} onPick={(text) => take({ text })} />
          </Row>
          <Row label="Files">
            {types.map((t) => (
              <Tick
                key={t}
                label={kinds[t]}
                on={takes.pictures.includes(t)}
                onChange={(on) => take({ pictures: types.filter((k) => (k === t ? on : takes.pictures.includes(k))) })}
              />
            ))}
            <Tick label="Pages as PDF" on={takes.pdf} onChange={(pdf) => take({ pdf })} />
          </Row>
          <div className="grid gap-3 sm:grid-cols-4">
            <Limit
              label="Largest file, KB"
              value={takes.largestFile / 1000}
              onChange={(n) => take({ largestFile: n * 1000 })}
            />
            <Limit
              label="All files, KB"
              value={takes.largestSum / 1000}
              onChange={(n) => take({ largestSum: n * 1000 })}
            />
            <Limit label="Files" value={takes.mostFiles} onChange={(mostFiles) => take({ mostFiles })} />
            <Limit label="Characters" value={takes.longestText} onChange={(longestText) => take({ longestText })} />
          </div>
          <p className="text-sm text-soft">Empty is no limit. Pictures are made to fit.</p>
          <label className="block">
            <span className="mb-1 block text-sm text-soft">
              {"What stands around the text, with {text} where it goes, and {title}, {sender}, {link}"}
            </span>
            <textarea
              rows={2}
              value={takes.around ?? ""}
              onChange={(e) => take({ around: e.target.value || undefined })}
              className="w-full rounded border border-soft bg-paper px-2 py-1"
            />
          </label>
          {takes.pdf && (
            <label className="block">
              <span className="mb-1 block text-sm text-soft">House style of the pages</span>
              <select
                value={takes.style ?? ""}
                onChange={(e) => take({ style: e.target.value || undefined })}
                className="w-full rounded border border-soft bg-paper px-2 py-1.5"
              >
                <option value="">the document’s own</option>
                {styles.data?.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.style.name}
                  </option>
                ))}
              </select>
            </label>
          )}
        </fieldset>
        <Secret
          label="Key by which it signs what it tells of, if it does"
          anew={anew}
          value={reached.told ?? ""}
          onChange={(told) => reach({ told })}
        />
        {error && (
          <p role="alert" className="text-mustfix">
            {error.message}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onDone}>Cancel</Button>
          <Button look="main" type="submit" disabled={busy}>
            Save
          </Button>
        </div>
      </form>
    </Panel>
  );
}

const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="flex flex-wrap items-center gap-3">
    <span className="w-12 text-sm text-soft">{label}</span>
    {children}
  </div>
);

const Tick = (props: { label: string; on: boolean; onChange: (on: boolean) => void }) => (
  <label className="flex items-center gap-1.5">
    <input type="checkbox" checked={props.on} onChange={(e) => props.onChange(e.target.checked)} />
    {props.label}
  </label>
);

const Limit = (props: { label: string; value: number; onChange: (n: number) => void }) => (
  <label className="block">
    <span className="mb-1 block text-sm text-soft">{props.label}</span>
    <input
      type="number"
      min={0}
      step="any"
      value={props.value || ""}
      onChange={(e) => props.onChange(Math.max(0, Math.round(Number(e.target.value) || 0)))}
      className="w-full rounded border border-soft bg-paper px-2 py-1"
    />
  </label>
);

/** What is kept sealed: it is entered, and never shown. */
export const Secret = (props: { label: string; anew: boolean; value: string; onChange: (s: string) => void }) => (
  <label className="block">
    <span className="mb-1 block text-sm text-soft">{props.label}</span>
    <input
      type="password"
      autoComplete="new-password"
      placeholder={props.anew ? "" : "Stays as it is unless you enter another"}
      value={props.value}
      onChange={(e) => props.onChange(e.target.value)}
      className="w-full rounded border border-soft bg-paper px-3 py-2 placeholder:text-soft"
    />
  </label>
);
