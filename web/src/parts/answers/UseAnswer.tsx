import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, expect } from "../../base/api/client";
import { copyDocument } from "../deliveries/copy";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { type Fill, Filling, open } from "./Filling";
import { freshPicture } from "./fresh";

/** A stock answer made ready: its places filled in, a fresh picture pasted, and copied. */
export function UseAnswer({ id, onDone }: { id: string; onDone: () => void }) {
  const notice = useNotice();
  const path = { document: id };
  const whole = useQuery(ask("/api/documents/{document}", { path }));
  const [fill, setFill] = useState<Fill>({});
  const data = whole.data;
  const fresh = useMutation({
    ...beside,
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
    ...beside,
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
      notice({ text: "The answer is on the clipboard." });
      onDone();
    },
  });
  const lacks = data ? open(data, fill) : [];
  const lack = lacks.length > 0 && `Fill in: ${lacks.join(", ")}.`;
  const error = fresh.error ?? copy.error;
  return (
    <Panel title={data ? `Answer with “${shown(data.summary.title)}”` : "Answer"} wide onDone={onDone}>
      {whole.isPending && <Loading what="the answer" />}
      {whole.error && <Failed error={whole.error} again={() => void whole.refetch()} />}
      {data && (
        <>
          <Filling whole={data} fill={fill} onFill={setFill} />
          <p role="status" className="mt-2 text-sm text-soft">
            {fresh.isPending
              ? "Looking for each mark’s place in the new picture …"
              : fresh.data === undefined
                ? data.blocks.some((b) => b.content.figures.length > 0)
                  ? "Paste a fresh picture to replace the first one: its marks go along."
                  : "Paste a picture to show what the answer says."
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
            {lacks.length > 0 && <span className="self-center text-sm text-soft">Fill in: {lacks.join(", ")}.</span>}
            <Button disabled={copy.isPending} why={lack} onClick={() => copy.mutate("link")}>
              Copy text and a link
            </Button>
            <Button
              look="main"
              disabled={copy.isPending || fresh.isPending}
              why={lack}
              onClick={() => copy.mutate("rich")}
            >
              Copy with pictures
            </Button>
          </div>
        </>
      )}
    </Panel>
  );
}
