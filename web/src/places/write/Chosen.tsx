import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect } from "../../base/api/client";
import { copyDocument } from "../../parts/deliveries/copy";
import { useMaking } from "../../parts/reports/making";
import { AskDialog, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { PickDocument } from "../../base/ui/PickDocument";
import { shown } from "../../base/ui/shown";
import type { Draft } from "../../parts/document/draft";
import { leadingTo } from "../../base/api/content";
import type { Row } from "../../parts/document/model";
import type { Travel } from "../../parts/document/useUndo";

/** What is done to several blocks that were chosen. */
export function Chosen(props: { id: string; draft: Draft; chosen: Row[]; travel: Travel; onDone: () => void }) {
  const { draft, chosen, travel, onDone } = props;
  const [asking, setAsking] = useState<"copy" | "extract">();
  const notice = useNotice();
  const undo = { label: "Undo", run: () => travel("undo") };
  const steps = chosen.length === 1 ? "1 block" : `${chosen.length} blocks`;
  const ids = chosen.map((r) => r.id);
  const copy = useMutation({
    mutationFn: (to: { id: string; title: string }) =>
      expect(
        api.POST("/api/documents/{document}/steps", {
          params: { path: { document: to.id } },
          body: { blocks: chosen.map((r) => r.content) },
        }),
      ),
    onSuccess: (_, to) => {
      notice({ text: `Copied ${steps} to the end of “${shown(to.title)}”.` });
      onDone();
    },
  });
  const extract = useMutation({
    mutationFn: async (title: string) => {
      await draft.settled(); // pictures that are on their way are there then
      const taken = draft.blocks().filter((r) => ids.includes(r.id));
      const body = { title, blocks: taken.map((r) => r.content) };
      return { made: await expect(api.POST("/api/documents", { body })), taken };
    },
    onSuccess: ({ made, taken }) => {
      draft.replaceAll("Take steps out into a procedure", taken, leadingTo("step", made.id));
      notice({ text: `${steps} now stand in “${shown(made.title)}”, and a step leads there.`, action: undo });
      onDone();
    },
  });
  const making = useMaking();
  const busy = copy.isPending || extract.isPending;
  return (
    <div
      role="toolbar"
      aria-label="What to do with what is chosen"
      className="sticky bottom-0 z-10 flex flex-wrap items-center gap-2 border-t border-soft bg-paper px-4 py-2"
    >
      <span className="font-bold">{steps} chosen</span>
      <Button small onClick={() => draft.moveAll(ids, -1)}>
        Move up
      </Button>
      <Button small onClick={() => draft.moveAll(ids, 1)}>
        Move down
      </Button>
      <Button
        small
        onClick={() => {
          draft.duplicateAll(ids);
          notice({ text: `Duplicated ${steps}.`, action: undo });
        }}
      >
        Duplicate
      </Button>
      <Button
        small
        onClick={() =>
          void copyDocument(props.id, "rich", ids, undefined, draft.settled()).then(
            () => notice({ text: `${steps} are on the clipboard, with their pictures.` }),
            (e: Error) => notice({ text: `Nothing was copied: ${e.message}` }),
          )
        }
      >
        Copy with pictures
      </Button>
      <Button small disabled={busy} onClick={() => setAsking("copy")}>
        Copy to another document
      </Button>
      {draft.kind === "procedure" && (
        <Button small disabled={busy} onClick={() => setAsking("extract")}>
          Take out into a procedure
        </Button>
      )}
      <Button
        small
        disabled={busy || making.isPending}
        onClick={() =>
          void draft.settled().then(() =>
            making.mutate({
              title: draft.title,
              kind: "answer",
              from: props.id,
              blocks: chosen.map((r) => r.content),
            }),
          )
        }
      >
        Make an answer of them
      </Button>
      <Button
        small
        className="text-mustfix"
        onClick={() => {
          draft.removeAll(ids);
          notice({ text: `Deleted ${steps}.`, action: undo });
          onDone();
        }}
      >
        Delete
      </Button>
      <span className="flex-1" />
      <Button small look="quiet" onClick={onDone}>
        Choose none
      </Button>
      {asking === "copy" && (
        <PickDocument
          title={`Copy ${steps} to`}
          without={[props.id]}
          onDone={(to) => {
            setAsking(undefined);
            if (to) copy.mutate(to);
          }}
        />
      )}
      {asking === "extract" && (
        <AskDialog
          title="Take out into a procedure of its own"
          label="Its title: what will the reader be able to do?"
          initial=""
          confirm="Take out"
          check={(t) => (t ? "" : "Give it a title.")}
          onDone={(title) => {
            setAsking(undefined);
            if (title) extract.mutate(title);
          }}
        />
      )}
    </div>
  );
}
