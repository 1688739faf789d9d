import { beside } from "../../base/api/beside";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, expect, type Folder } from "../../base/api/client";
import { Button, Panel } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { TemplateChoice } from "./TemplateChoice";
import { useFormats } from "./useDeliveries";

const box = "rounded border border-soft bg-paper px-2 py-1";

/** Has files made of all that is valid in a folder: one zip with a list that leads to them. */
export function FolderFiles({ folder, onDone }: { folder: Folder; onDone: () => void }) {
  const formats = useFormats();
  const navigate = useNavigate();
  const [format, setFormat] = useState("pdf");
  const [template, setTemplate] = useState("");
  const forms = formats.data?.filter((f) => !f.whole) ?? [];
  const form = forms.find((f) => f.name === format);
  const named = template && form?.templates.some((t) => t.name === template);
  const order = useMutation({
    ...beside,
    mutationFn: () =>
      expect(
        api.POST("/api/folders/{folder}/deliveries", {
          params: { path: { folder: folder.id } },
          body: { format, ...(named && { template }) },
        }),
      ),
    onSuccess: async () => {
      void navigate("/deliveries");
    },
  });
  return (
    <Panel title={`Make files of “${shown(folder.name)}”`} onDone={onDone}>
      <p className="mb-4">
        One file for each document that is valid, in this folder and in those within it, with a page that leads to them.
      </p>
      <div className="space-y-3">
        <label className="flex items-center gap-2">
          Form
          <select value={format} onChange={(e) => setFormat(e.target.value)} className={box}>
            {forms.map((f) => (
              <option key={f.name} value={f.name}>
                {f.title}
              </option>
            ))}
          </select>
        </label>
        <TemplateChoice form={form} value={template} onChoose={setTemplate} />
      </div>
      {order.error && (
        <p role="alert" className="mt-3 text-mustfix">
          {order.error.message}
        </p>
      )}
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button
          look="main"
          disabled={order.isPending}
          why={!form && "Choose a format first."}
          onClick={() => order.mutate()}
        >
          Make them
        </Button>
      </div>
    </Panel>
  );
}
