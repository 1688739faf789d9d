import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { unsent } from "../../base/ui/unsent";
import { mentioned } from "./useComments";

/** Where something is said. An @ offers people; Ctrl and Enter send it, Escape leaves it. */
export function Compose(props: {
  label: string;
  /** By which what is written is kept while this is not on the page. */
  keep: string;
  initial?: string;
  confirm: string;
  autoFocus?: boolean;
  busy: boolean;
  error: Error | null;
  onSay: (body: string, mentions: string[]) => void;
  onLeave?: () => void;
}) {
  const [body, setBody] = useState(unsent.get(props.keep) ?? props.initial ?? "");
  const write = (text: string) => {
    unsent.set(props.keep, text);
    setBody(text);
  };
  const leave = () => {
    unsent.delete(props.keep);
    props.onLeave?.();
  };
  const [asked, setAsked] = useState<string>();
  const field = useRef<HTMLTextAreaElement>(null);
  const people = useQuery(ask("/api/people"));
  const offered =
    asked === undefined
      ? []
      : (people.data ?? []).filter((p) => p.name.toLowerCase().includes(asked.toLowerCase())).slice(0, 5);
  const look = (text: string, at: number) => setAsked(/@([^@\n]{0,30})$/.exec(text.slice(0, at))?.[1]);
  const name = (person: string) => {
    const at = field.current?.selectionStart ?? body.length;
    const before = body.slice(0, at).replace(/@[^@\n]{0,30}$/, `@${person} `);
    write(before + body.slice(at));
    setAsked(undefined);
    field.current?.focus();
    requestAnimationFrame(() => field.current?.setSelectionRange(before.length, before.length));
  };
  const said = useRef(""); // pressed twice it is said once; what failed can be said again
  useEffect(() => {
    if (props.error) said.current = "";
  }, [props.error]);
  const say = () => {
    if (!body.trim() || body === said.current) return;
    said.current = body;
    props.onSay(body, mentioned(body, people.data ?? []));
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        say();
      }}
    >
      <textarea
        ref={field}
        aria-label={props.label}
        autoFocus={props.autoFocus}
        rows={3}
        maxLength={4000}
        value={body}
        onChange={(e) => {
          write(e.target.value);
          look(e.target.value, e.target.selectionStart);
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            say();
          }
          if (e.key === "Escape") {
            e.stopPropagation();
            if (offered.length > 0) setAsked(undefined);
            else leave();
          }
        }}
        className="w-full rounded border border-soft bg-paper px-2 py-1 text-sm"
      />
      {offered.length > 0 && (
        <ul aria-label="People" className="mb-1 rounded border border-soft bg-paper">
          {offered.map((p) => (
            <li key={p.id}>
              <button
                type="button"
                onMouseDown={(e) => e.preventDefault()} // the field keeps the keyboard
                onClick={() => name(p.name)}
                className="w-full px-2 py-0.5 text-left text-sm hover:bg-desk"
              >
                {shown(p.name)}
              </button>
            </li>
          ))}
        </ul>
      )}
      {props.error && (
        <p role="alert" className="text-sm text-mustfix">
          {props.error.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button small look="main" type="submit" disabled={props.busy} why={!body.trim() && "Write something first."}>
          {props.confirm}
        </Button>
        {props.onLeave && (
          <Button small onClick={leave}>
            Cancel
          </Button>
        )}
      </div>
    </form>
  );
}
