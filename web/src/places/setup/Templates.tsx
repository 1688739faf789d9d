import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Account, api, expect, type Template, type TemplateKind } from "../../base/api/client";
import { sizeOf } from "../../base/format";
import { Actions, AskDialog, ChooseFiles } from "../../base/ui/controls";
import { Subject } from "../../parts/bar/SetupPage";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { addTemplate, changeTemplate, textOf, useTemplates } from "../../parts/house/useTemplates";
import { keysOf } from "../../base/typed";

const kinds: Record<TemplateKind, { title: string; endings: string }> = {
  html: { title: "web page", endings: ".html,.htm" },
  docx: { title: "word processor", endings: ".docx,.dotx" },
  pptx: { title: "presentation", endings: ".pptx,.potx" },
};

/** The kind of a template, by the ending of its file. */
const kindOf = (file: File) => {
  const ending = /\.[^.]*$/.exec(file.name.toLowerCase())?.[0] ?? "";
  return keysOf(kinds).find((k) => kinds[k].endings.split(",").includes(ending));
};

const plain = (name: string) => name.replace(/\.[^.]*$/, "");

/** The templates of the house, under Setup. */
export function Templates({ account }: { account: Account }) {
  const list = useTemplates();
  const notice = useNotice();
  const navigate = useNavigate();
  const [said, setSaid] = useState<Template>();
  const [renamed, setRenamed] = useState<Template>();
  const act = useMutation({
    mutationFn: (run: () => Promise<unknown>) => run(),
  });
  const add = (file: File | undefined) => {
    const kind = file && kindOf(file);
    if (!kind) return notice({ text: "A template is an .html, .docx, .dotx, .pptx or .potx file. Nothing was kept." });
    act.mutate(async () => setSaid(await addTemplate(kind, plain(file.name), file)));
  };
  const begin = (from: string, name: string) =>
    act.mutate(async () => {
      const source = await textOf(`/api/templates/examples/${from}`);
      const made = await addTemplate("html", name, new Blob([source]));
      void navigate(`/templates/${made.id}`);
    });
  const change = (t: Template, body: { name?: string; script?: boolean }) =>
    act.mutate(() =>
      expect(
        api.PATCH("/api/templates/{template}", {
          params: { path: { template: t.id } },
          body: { version: t.version, ...body },
        }),
      ),
    );
  return (
    <Subject id="templates" title="Templates">
      <p className="mt-1 max-w-prose text-soft">
        Your own web page, word processor file or presentation, filled in with a document. Begin from one of ours: it
        shows the placeholders that there are.
      </p>
      <div className="mt-3 flex flex-wrap gap-2">
        <ChooseFiles
          label="Add a file"
          accept={Object.values(kinds)
            .map((k) => k.endings)
            .join(",")}
          onFiles={(f) => add(f[0])}
        />
        <Actions
          className="rounded border border-line px-3 py-1.5 hover:border-soft"
          choices={[
            { label: "from the page", run: () => begin("page", "Our page") },
            { label: "from a step at a time", run: () => begin("steps", "Our steps") },
            { label: "from the printed look", run: () => begin("printed", "Our print") },
            { label: "from the fragment for wikis", run: () => begin("fragment", "Our fragment") },
          ]}
        >
          Write a web page
        </Actions>
        <Actions
          className="rounded border border-line px-3 py-1.5 hover:border-soft"
          choices={(["docx", "pptx"] as const).map((k) => ({
            label: `for the ${kinds[k].title} (.${k})`,
            run: () => location.assign(`/api/templates/examples/${k}`),
          }))}
        >
          Download one to begin with
        </Actions>
      </div>
      {said && (
        <div role="status" className="mt-4 border-l-[3px] border-call py-1 pl-3">
          <p>
            “{shown(said.name)}” is kept. {said.notes.length === 0 ? "Everything in it stands for something." : ""}
          </p>
          {said.notes.length > 0 && (
            <ul className="mt-1 list-disc pl-5">
              {said.notes.map((n, i) => (
                <li key={i}>
                  {n.where && `${n.where[0]?.toUpperCase()}${n.where.slice(1)}: `}
                  {shown(n.text)}
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
      <ul className="mt-3">
        {list.data?.map((t) => (
          <li key={t.id} className="flex flex-wrap items-center gap-x-3 border-t border-line py-2">
            <span className="min-w-0 flex-1 basis-56">
              {t.kind === "html" ? (
                <Link to={`/templates/${t.id}`} className="font-bold break-words text-action hover:underline">
                  {shown(t.name)}
                </Link>
              ) : (
                <strong className="break-words">{shown(t.name)}</strong>
              )}
              <span className="block text-sm text-soft">
                For the {kinds[t.kind].title}, {sizeOf(t.bytes)}, by {shown(t.by)}.{t.script && " May run script."}
              </span>
            </span>
            <Actions
              label={`More for ${t.name}`}
              className="rounded border border-line px-2 py-0.5 text-sm hover:border-soft"
              choices={[
                { label: "Rename", run: () => setRenamed(t) },
                { label: "Download", run: () => location.assign(`/api/templates/${t.id}`) },
                ...(t.kind === "html" && account.role === "administrator"
                  ? [
                      {
                        label: t.script ? "Let it run no script" : "Let it run script",
                        run: () => change(t, { script: !t.script }),
                      },
                    ]
                  : []),
                "line",
                {
                  label: "Delete",
                  danger: true,
                  run: () =>
                    act.mutate(async () => {
                      await expect(api.DELETE("/api/templates/{template}", { params: { path: { template: t.id } } }));
                      notice({ text: `“${t.name}” can’t be chosen any more.` });
                    }),
                },
              ]}
            >
              More
            </Actions>
            <ChooseFiles
              small
              label="Another file"
              accept={kinds[t.kind].endings}
              onFiles={(f) => {
                const file = f[0];
                if (file) act.mutate(async () => setSaid(await changeTemplate(t, file)));
              }}
            />
          </li>
        ))}
      </ul>
      {act.isPending && (
        <p role="status" className="mt-2 text-soft">
          One moment …
        </p>
      )}
      {renamed && (
        <AskDialog
          title="Rename the template"
          label="Name"
          initial={renamed.name}
          confirm="Rename"
          check={(t) => (t && t.length <= 80 ? "" : "Use 1 to 80 characters.")}
          onDone={(name) => {
            setRenamed(undefined);
            if (name) change(renamed, { name });
          }}
        />
      )}
    </Subject>
  );
}
