import { bytes } from "../../base/api/bytes";
import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, expect } from "../../base/api/client";
import { sizeOf } from "../../base/format";
import { Button, ChooseFiles } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";

/** The files beside a report, logs and the like, which go along when it is sent. */
export function Attachments({ id }: { id: string }) {
  const path = { document: id };
  const list = useQuery(ask("/api/documents/{document}/attachments", { path }));
  const add = useMutation({
    ...beside,
    mutationFn: async (files: File[]) => {
      for (const file of files)
        await expect(
          api.POST("/api/documents/{document}/attachments", {
            params: { path, query: { name: file.name } },
            ...bytes(file),
          }),
        );
    },
  });
  const remove = useMutation({
    ...beside,
    mutationFn: (attachment: string) =>
      expect(
        api.DELETE("/api/documents/{document}/attachments/{attachment}", { params: { path: { ...path, attachment } } }),
      ),
  });
  const error = add.error ?? remove.error;
  return (
    <section aria-label="Files beside it" className="w-full">
      <ul className="mb-2 space-y-1">
        {list.data?.map((a) => (
          <li key={a.id} className="flex items-center gap-3">
            <a
              href={`/api/documents/${id}/attachments/${a.id}`}
              download={a.name}
              className="min-w-0 truncate text-action underline"
            >
              {shown(a.name)}
            </a>
            <span className="text-sm text-soft">{sizeOf(a.bytes)}</span>
            <Button small aria-label={`Take out ${a.name}`} onClick={() => remove.mutate(a.id)}>
              Take out
            </Button>
          </li>
        ))}
      </ul>
      <ChooseFiles label="Attach a file" accept="" many onFiles={(files) => add.mutate(files)} />
      <span className="ml-3 text-sm text-soft">A log, an export: at most 10 files of 5 MB.</span>
      {error && (
        <p role="alert" className="text-mustfix">
          {error.message}
        </p>
      )}
    </section>
  );
}
