import { reasonOf } from "../../base/reason";
import { sizeOf } from "../../base/format";
import { useState } from "react";
import type { Figure } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { DragOut } from "./DragOut";
import { copyFinished, finish } from "./finished";
import { SaveAs } from "./SaveAs";
import { type How, useTakeOut } from "./useTakeOut";
import { NumberField, Pick } from "./fields";
import { sure } from "../../base/typed";

const limits = { "0": "Full size", "200000": "At most 200 KB", "1000000": "At most 1 MB", "10000000": "At most 10 MB" };
const types = { png: "PNG", jpeg: "JPEG", webp: "WebP", gif: "GIF", pdf: "PDF" };

/** Takes the finished picture out: copied, saved under a name, printed, mailed, or dragged. */
export function Finished({ figure, first, name }: { figure: Figure; first: number; name: string }) {
  const notice = useNotice();
  const [type, setType] = useState<keyof typeof types>("png");
  const [quality, setQuality] = useState(90);
  const [most, setMost] = useState("0");
  const [naming, setNaming] = useState(false);
  const [printing, setPrinting] = useState(false);
  const out = useTakeOut(figure, first, name);
  const busy = out.busy || printing;
  const how: How = { type, quality, ...(most !== "0" && { most: Number(most) }) };
  const fresh = out.fresh(how);
  const print = async () => {
    setPrinting(true);
    try {
      const { blob } = await finish(figure, first, { type: "png" });
      const frame = document.createElement("iframe");
      frame.className = "fixed size-0";
      const url = URL.createObjectURL(blob);
      document.body.append(frame);
      const page = sure(frame.contentDocument);
      const image = page.createElement("img");
      image.style.maxWidth = "100%";
      image.alt = figure.alt;
      image.src = url;
      await image.decode();
      page.body.append(image);
      frame.contentWindow?.addEventListener("afterprint", () => {
        frame.remove();
        URL.revokeObjectURL(url);
      });
      frame.contentWindow?.print();
    } catch (e) {
      notice({ text: `The picture was not printed: ${reasonOf(e)}` });
    } finally {
      setPrinting(false);
    }
  };
  return (
    <section aria-label="Finished picture" className="space-y-2">
      <div className="flex flex-wrap gap-1">
        <Button small onClick={() => void copyFinished(figure, first, (text) => notice({ text }))}>
          Copy
        </Button>
        <Button small disabled={busy} onClick={() => setNaming(true)}>
          Save
        </Button>
        <Button small disabled={busy} onClick={() => void print()}>
          Print
        </Button>
        <Button small disabled={busy} onClick={() => void out.mail()}>
          Mail
        </Button>
      </div>
      <div className="flex flex-wrap gap-1">
        {most === "0" && <Pick label="Format" value={type} options={types} onPick={(t) => setType(t)} />}
        <Pick label="Size" value={most} options={limits} onPick={setMost} />
        {most === "0" && type === "jpeg" && (
          <NumberField label="Quality" value={quality} min={1} max={100} onChange={setQuality} />
        )}
      </div>
      {/* It is made while the pointer comes near, so that it is there when the drag begins. */}
      <DragOut
        made={fresh}
        says={fresh ? `${fresh.file.name}, ${sizeOf(fresh.file.size)}` : "Drag it out"}
        onNear={() => void out.make(how)}
      />
      {naming && <SaveAs name={name} onSave={(as) => void out.save(how, as)} onDone={() => setNaming(false)} />}
    </section>
  );
}
