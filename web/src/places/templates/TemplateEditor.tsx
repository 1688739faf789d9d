import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { type Account, type Template } from "../../base/api/client";
import { TopBar } from "../../parts/bar/TopBar";
import { PickDocument } from "../../base/ui/PickDocument";
import { Blank, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { unsent } from "../../base/ui/unsent";
import { useTitle } from "../../base/ui/title";
import { useAskFirst } from "../../base/ui/useEdited";
import { Fields } from "./Fields";
import { Source } from "./Source";
import { changeTemplate, checkTemplate, textOf, useTemplates } from "../../parts/house/useTemplates";

/** A template for web pages is written: its words, and beside them a document as they show it. */
export default function TemplateEditor({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const list = useTemplates();
  const kept = list.data?.find((t) => t.id === id && t.kind === "html");
  const source = useQuery({
    queryKey: ["template", id],
    queryFn: () => textOf(`/api/templates/${id}`),
    staleTime: Infinity,
    gcTime: 0,
  });
  if (list.isPending || source.isPending) return <Loading what="the template" />;
  if (!kept) return <Blank title="There is no such template">It may have been deleted.</Blank>;
  if (source.error) return <Failed error={source.error} again={() => void source.refetch()} />;
  return <Editing key={id} account={account} kept={kept} initial={source.data} />;
}

function Editing({ account, kept, initial: text }: { account: Account; kept: Template; initial: string }) {
  const keep = `template ${kept.id}`;
  const [initial] = useState(unsent.get(keep) ?? text);
  const [source, setSource] = useState(initial);
  const [saved, setSaved] = useState(text);
  const [version, setVersion] = useState(kept.version);
  const [settled, setSettled] = useState(initial);
  const [goTo, setGoTo] = useState<{ line: number }>();
  const client = useQueryClient();
  const notice = useNotice();
  useTitle(`Template ${shown(kept.name)}`);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(source), 300);
    return () => clearTimeout(timer);
  }, [source]);
  const unsaved = source !== saved;
  useAskFirst(unsaved);
  const checked = useQuery({
    queryKey: ["template checked", kept.id, kept.script, settled],
    queryFn: ({ signal }) => checkTemplate(settled, kept.script, signal),
    placeholderData: (before) => before,
    gcTime: 0,
  });
  const notes = checked.data ?? [];
  const save = useMutation({
    ...beside,
    mutationFn: () => changeTemplate({ ...kept, version }, new Blob([source])),
    onSuccess: async (now) => {
      unsent.delete(keep);
      client.setQueryData(["template", kept.id], source);
      setSaved(source);
      setVersion(now.version);
      notice({
        text: kept.script && !now.script ? "Kept. An administrator has to let it run script again." : "Kept.",
      });
    },
  });
  return (
    <div className="flex h-dvh flex-col">
      <TopBar account={account}>
        <Link to="/setup/styles" className="text-mist hover:text-paper">
          Templates
        </Link>
        <h1 className="min-w-0 flex-1 truncate font-bold">{shown(kept.name)}</h1>
        <Button
          look="call"
          disabled={save.isPending}
          why={!unsaved && "Nothing was changed."}
          onClick={() => save.mutate()}
        >
          Keep
        </Button>
      </TopBar>
      <main className="grid min-h-0 flex-1 grid-cols-2">
        <div className="flex min-h-0 min-w-0 flex-col border-r border-line bg-paper">
          <div className="min-h-0 flex-1 overflow-hidden">
            <Source
              initial={initial}
              notes={notes}
              goTo={goTo}
              onChange={(now) => {
                unsent.set(keep, now);
                setSource(now);
              }}
            />
          </div>
          <div className="max-h-40 shrink-0 overflow-y-auto border-t border-line px-4 py-2" aria-live="polite">
            {save.error && (
              <p role="alert" className="text-mustfix">
                {save.error.message}
              </p>
            )}
            {notes.length === 0 ? (
              <p className="text-sm text-soft">Nothing is wrong with it.</p>
            ) : (
              <ul aria-label="What is wrong with it">
                {notes.map((n, i) => (
                  <li key={i}>
                    <button
                      type="button"
                      onClick={() => setGoTo({ line: n.line ?? 1 })}
                      className="text-left text-mustfix hover:underline"
                    >
                      <b>Line {n.line ?? 1}</b> {shown(n.text)}
                    </button>
                  </li>
                ))}
              </ul>
            )}
          </div>
          <Fields />
        </div>
        <Preview
          source={settled}
          script={kept.script}
          works={notes.length === 0 && checked.isSuccess && !checked.isPlaceholderData}
        />
      </main>
    </div>
  );
}

/** A document as the template shows it, in a frame that can do nothing. What does not work leaves the last that did. */
function Preview({ source, script, works }: { source: string; script: boolean; works: boolean }) {
  const [document, setDocument] = useState<string>();
  const [choosing, setChoosing] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const documents = useQuery(ask("/api/documents"));
  const ready = documents.data?.filter((d) => d.kind === "procedure" && d.state === "ready") ?? [];
  const longest = ready.sort((a, b) => b.steps - a.steps)[0];
  const of = document ?? (longest ?? documents.data?.[0])?.id;
  useEffect(() => {
    if (works && of) form.current?.submit();
  }, [source, works, of]);
  return (
    <div className="flex min-h-0 min-w-0 flex-col bg-desk">
      <div className="flex items-center gap-3 px-4 py-2 text-sm text-soft">
        <span className="flex-1">The first steps of a document, as the template shows them.</span>
        <Button small onClick={() => setChoosing(true)}>
          Show another document
        </Button>
      </div>
      {documents.data?.length === 0 && <p className="px-4">Write a document first: a template is seen on one.</p>}
      <form
        ref={form}
        method="post"
        action={`/api/documents/${of ?? ""}/templated`}
        target="template-preview"
        className="hidden"
      >
        <textarea name="source" readOnly value={source} />
        <input name="script" readOnly value={String(script)} />
      </form>
      <iframe
        name="template-preview"
        title="Preview"
        sandbox={script ? "allow-scripts" : ""}
        className="min-h-0 w-full flex-1 border-t border-line bg-paper"
      />
      {choosing && (
        <PickDocument
          title="Show the template on a document"
          without={[]}
          onDone={(d) => {
            setChoosing(false);
            if (d) setDocument(d.id);
          }}
        />
      )}
    </div>
  );
}
