import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect, type WholeDocument } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { core } from "../../base/core/core";
import type { Draft } from "../document/draft";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { type Fill, Filling, open } from "./Filling";

/** A stock answer made ready for a request: every place is asked for, then it goes under *Answer*. */
export function InsertAnswer(props: { answer: string; name: string; draft: Draft; onDone: () => void }) {
  const { draft, onDone } = props;
  const notice = useNotice();
  const path = { document: props.answer };
  const whole = useQuery(ask("/api/documents/{document}", { path }));
  const [fill, setFill] = useState<Fill>({ name: props.name });
  const insert = useMutation({
    ...beside,
    mutationFn: async (data: WholeDocument) => {
      answerWith(draft, data, fill);
      await expect(api.POST("/api/documents/{document}/used", { params: { path } }));
    },
    onSuccess: () => {
      notice({ text: "It stands under Answer." });
      onDone();
    },
  });
  const data = whole.data;
  const lacks = data ? open(data, fill) : [];
  return (
    <Panel title={data ? `Answer with “${shown(data.summary.title)}”` : "Answer"} wide onDone={onDone}>
      {whole.isPending && <Loading what="the answer" />}
      {whole.error && <Failed error={whole.error} again={() => void whole.refetch()} />}
      {data && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            insert.mutate(data);
          }}
        >
          <Filling whole={data} fill={fill} onFill={setFill} />
          {insert.error && (
            <p role="alert" className="mt-2 text-mustfix">
              {insert.error.message}
            </p>
          )}
          <div className="mt-4 flex flex-wrap items-center justify-end gap-2">
            {lacks.length > 0 && <span className="text-sm text-soft">Fill in: {lacks.join(", ")}.</span>}
            <Button
              look="main"
              type="submit"
              disabled={insert.isPending}
              why={lacks.length > 0 && `Fill in: ${lacks.join(", ")}.`}
            >
              Put it under Answer
            </Button>
          </div>
        </form>
      )}
    </Panel>
  );
}

/**
 * Writes a stock answer into a request: the passages it begins with, or its title, are the answer; its steps follow
 * below.
 */
function answerWith(draft: Draft, whole: WholeDocument, fill: Fill) {
  for (const shot of whole.shots) draft.shotArrived(shot);
  const blocks = whole.blocks.map(({ content: c }) => ({
    ...c,
    words: core.filled(c.words, fill),
    figures: c.figures.map((f) => ({ ...f, id: newID() })),
  }));
  const steps = blocks.findIndex((b) => b.type !== "passage");
  const lead = blocks.slice(0, steps < 0 ? blocks.length : steps);
  const at = draft.blocks().findIndex((b) => b.content.asks === "reply");
  const reply = draft.blocks()[at]?.content;
  if (!reply) {
    draft.insert("Use a stock answer", draft.blocks().length, blocks);
    return;
  }
  const said = lead.flatMap((b) => b.words.content ?? []);
  const title = { type: "paragraph", content: [{ type: "text", text: `${whole.summary.title}:` }] };
  const before = says(reply.words) ? (reply.words.content ?? []) : [];
  draft.replace("Use a stock answer", at, [
    {
      ...reply,
      words: { type: "doc", content: [...before, ...(said.length > 0 ? said : [title])] },
      figures: [...reply.figures, ...lead.flatMap((b) => b.figures)],
    },
    ...blocks.slice(lead.length),
  ]);
}

const says = (words: WholeDocument["blocks"][number]["content"]["words"]) =>
  /"(text|mark|to)":/.test(JSON.stringify(words));
