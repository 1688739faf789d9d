import { ExternalLink, Film, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { Content, Other, WebLink } from "../../base/api/client";
import { core } from "../../base/core/core";
import { Button, Field, Panel } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { saidOf } from "../../parts/words/useAround";

/** What a step hands over to: a procedure of its own. */
export function Does({ other, document, onDrop }: { other?: Other; document: string; onDrop: () => void }) {
  const said = other ? saidOf(other) : "A document that is not here";
  return (
    <div className="mb-2 flex items-center gap-2 rounded border border-action px-3 py-2">
      <span className="min-w-0 flex-1">
        <span className="font-bold">Do: </span>
        {other && !other.closed ? (
          <Link to={`/d/${document}/write`} className="font-bold text-action hover:underline">
            {shown(said)}
          </Link>
        ) : (
          said
        )}
        {other?.retired && <span className="text-mustfix"> (retired)</span>}
      </span>
      <button
        type="button"
        aria-label={`Take away the link to ${said}`}
        title="Take the link away"
        onClick={onDrop}
        className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
      >
        <Trash2 size={16} aria-hidden />
      </button>
    </div>
  );
}

/** Web links and films beside a step. */
export function Beside({ content, onChange }: { content: Content; onChange: (beside: WebLink[]) => void }) {
  const [asking, setAsking] = useState<number>();
  const all = content.beside ?? [];
  if (all.length === 0) return null;
  return (
    <ul className="mt-2 space-y-1">
      {all.map((l, i) => (
        <li key={i} className="flex items-center gap-2 text-base">
          {l.film ? (
            <Film size={16} aria-label="Film" className="shrink-0 text-soft" />
          ) : (
            <ExternalLink size={16} aria-label="Web link" className="shrink-0 text-soft" />
          )}
          <button
            type="button"
            className="min-w-0 flex-1 truncate text-left text-action hover:underline"
            title={l.address}
            onClick={() => setAsking(i)}
          >
            {shown(l.title || l.address)}
          </button>
          <button
            type="button"
            aria-label={`Delete the link ${l.title || l.address}`}
            onClick={() => onChange(all.filter((_, j) => j !== i))}
            className="rounded p-1 text-soft hover:bg-desk hover:text-ink"
          >
            <Trash2 size={16} aria-hidden />
          </button>
        </li>
      ))}
      {asking !== undefined && (
        <WebLinkDialog
          initial={all[asking]}
          onDone={(link) => {
            if (link) onChange(all.map((l, i) => (i === asking ? link : l)));
            setAsking(undefined);
          }}
        />
      )}
    </ul>
  );
}

/** Asks for a web link or a film. The address is checked in form only; nothing is fetched. */
export function WebLinkDialog({ initial, onDone }: { initial?: WebLink; onDone: (link: WebLink | undefined) => void }) {
  const [address, setAddress] = useState(initial?.address ?? "https://");
  const [title, setTitle] = useState(initial?.title ?? "");
  const [film, setFilm] = useState(initial?.film ?? false);
  const [problem, setProblem] = useState("");
  return (
    <Panel title="Web link or film beside the step" onDone={() => onDone(undefined)}>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (!core.safeLink(address.trim())) {
            setProblem("An address starts with https://, http:// or mailto:.");
            return;
          }
          onDone({ address: address.trim(), title: title.trim() || undefined, film: film || undefined });
        }}
      >
        <Field label="Address" value={address} onChange={setAddress} autoFocus />
        <Field label="Title, as readers see it" value={title} onChange={setTitle} />
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={film} onChange={(e) => setFilm(e.target.checked)} className="size-4" />
          It is a film
        </label>
        {problem && <p className="text-mustfix">{problem}</p>}
        <p className="text-sm text-soft">On paper it stands with a code. Raconte does not open the address.</p>
        <div className="flex justify-end gap-2">
          <Button onClick={() => onDone(undefined)}>Cancel</Button>
          <Button look="main" type="submit">
            Put it there
          </Button>
        </div>
      </form>
    </Panel>
  );
}
