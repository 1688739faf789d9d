import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, expect, figureAddress } from "../api/client";
import { core } from "../core/core";
import { copyDocument } from "../deliveries/copy";
import { Button, Field, Panel } from "../ui/controls";
import { useNotice } from "../ui/notices";
import { shown } from "../ui/shown";
import { Failed, Loading } from "../ui/states";
import { WordsView } from "../words/WordsView";
import { freshPicture } from "./fresh";

/** A stock answer made ready: its places filled in, a fresh picture pasted, and copied. */
export function UseAnswer({ id, onDone }: { id: string; onDone: () => void }) {
  const notice = useNotice();
  const client = useQueryClient();
  const path = { document: id };
  const whole = useQuery({
    queryKey: ["document", id],
    queryFn: () => expect(api.GET("/api/documents/{document}", { params: { path } })),
  });
  const [fill, setFill] = useState<Record<string, string>>({});
  const data = whole.data;
  const places = core.places(data?.blocks.map((b) => b.content.words) ?? []);
  const fresh = useMutation({
    mutationFn: async (picture: Blob) => (data ? freshPicture(data, picture) : 0),
    onSuccess: () => void whole.refetch(),
  });
  useEffect(() => {
    const paste = (e: ClipboardEvent) => {
      const file = [...(e.clipboardData?.files ?? [])].find((f) => f.type.startsWith("image/"));
      if (!file) return;
      e.preventDefault();
      e.stopPropagation();
      fresh.mutate(file);
    };
    addEventListener("paste", paste, true);
    return () => removeEventListener("paste", paste, true);
  });
  const copy = useMutation({
    mutationFn: async (how: "rich" | "link") => {
      const link = `${location.origin}/d/${id}`;
      await copyDocument(id, how === "rich" ? "rich" : "plain", undefined, {
        bare: true,
        fill,
        ...(how === "link" && { after: link }),
      });
      await expect(api.POST("/api/documents/{document}/used", { params: { path } }));
    },
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["documents"] });
      notice({ text: "The answer is on the clipboard." });
      onDone();
    },
  });
  const error = fresh.error ?? copy.error;
  return (
    <Panel title={data ? `Answer with “${shown(data.summary.title)}”` : "Answer"} wide onDone={onDone}>
      {whole.isPending && <Loading what="the answer" />}
      {whole.error && <Failed error={whole.error} again={() => void whole.refetch()} />}
      {data && (
        <>
          {places.length > 0 && (
            <div className="mb-4 grid gap-3 sm:grid-cols-3">
              {places.map((p, i) => (
                <Field
                  key={p}
                  label={shown(p)}
                  value={fill[p] ?? ""}
                  onChange={(value) => setFill({ ...fill, [p]: value })}
                  autoFocus={i === 0}
                />
              ))}
            </div>
          )}
          <div className="max-h-[46dvh] overflow-y-auto border border-line p-3">
            {data.blocks.map((b) => (
              <div key={b.id} className="mb-3 flex gap-2">
                {b.number && <b>{b.number}</b>}
                <div className="min-w-0">
                  <WordsView words={b.content.words} markers={b.markers} />
                  {b.content.figures.map((f) => (
                    <img
                      key={f.id}
                      src={figureAddress(id, f.id, 800, data.seq)}
                      alt={b.alts[f.id] ?? ""}
                      className="mt-1 max-h-64 max-w-full border border-line"
                    />
                  ))}
                </div>
              </div>
            ))}
          </div>
          <p role="status" className="mt-2 text-sm text-soft">
            {fresh.isPending
              ? "Looking for each mark’s place in the new picture …"
              : fresh.data === undefined
                ? "Paste a fresh picture to replace the first one: its marks go along."
                : fresh.data === 0
                  ? "The picture is fresh, and each mark has its place."
                  : `The picture is fresh. ${fresh.data === 1 ? "1 mark" : `${fresh.data} marks`} may be in the wrong place: look at it.`}
          </p>
          {error && (
            <p role="alert" className="mt-2 text-mustfix">
              {error.message}
            </p>
          )}
          <div className="mt-4 flex flex-wrap justify-end gap-2">
            <Link to={`/d/${id}/write`} className="mr-auto self-center text-action underline">
              Edit the answer
            </Link>
            <Button disabled={copy.isPending} onClick={() => copy.mutate("link")}>
              Copy text and a link
            </Button>
            <Button look="main" disabled={copy.isPending || fresh.isPending} onClick={() => copy.mutate("rich")}>
              Copy with pictures
            </Button>
          </div>
        </>
      )}
    </Panel>
  );
}
