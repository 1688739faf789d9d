import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { api, expect, type Taken, toldBy } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { altOf, captionOf } from "../shots/use";
import { Button, ChooseFiles } from "../../base/ui/controls";

/** Picks one of the person's shots, the newest first, or a file. What is taken meanwhile appears by itself. */
export function ShotPicker(props: { title: string; children?: React.ReactNode; onPick: (shot: Taken | null) => void }) {
  const list = useQuery({ ...ask("/api/shots"), refetchOnWindowFocus: "always", refetchOnMount: "always" });
  const [problem, setProblem] = useState("");
  const bringIn = async (file: File | undefined) => {
    if (!file) return;
    try {
      props.onPick(await brought(file));
    } catch (e) {
      setProblem(`${file.name} was not taken: ${reasonOf(e)}`);
    }
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && props.onPick(null)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[8vh] left-1/2 z-50 flex max-h-[84vh] w-[min(58rem,94vw)] -translate-x-1/2 flex-col rounded-md border border-soft bg-paper p-5"
        >
          <Dialog.Title className="mb-2 text-lg font-bold">{props.title}</Dialog.Title>
          {props.children}
          {problem && (
            <p role="alert" className="mb-2 border-l-[3px] border-mustfix pl-3">
              {problem}
            </p>
          )}
          {list.data?.length === 0 && <p>There is no shot yet. Take one, and it appears here.</p>}
          <ul className="grid min-h-0 flex-1 grid-cols-4 gap-3 overflow-y-auto p-1">
            {(list.data ?? []).map((t) => (
              <li key={t.id}>
                <button
                  type="button"
                  onClick={() => props.onPick(t)}
                  className="block w-full rounded border border-line bg-desk p-1 text-left hover:border-action"
                >
                  <img
                    src={`/api/shots/${t.id}/preview`}
                    alt={altOf(t)}
                    loading="lazy"
                    className="aspect-video w-full object-contain"
                  />
                  <span className="block truncate text-sm">{captionOf(t)}</span>
                </button>
              </li>
            ))}
          </ul>
          <div className="mt-3 flex items-center gap-3">
            <ChooseFiles label="Choose a file" accept="image/*" onFiles={([file]) => void bringIn(file)} />
            <a href="/capture" target="_blank" rel="noreferrer" className="text-action underline">
              Take one under Capture, in a tab of its own
            </a>
            <span className="flex-1" />
            <Button onClick={() => props.onPick(null)}>Cancel</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** A file as a shot on the server. */
async function brought(file: File): Promise<Taken> {
  const shot = newID();
  const path = `/api/shots/${shot}`;
  const answer = await fetch(`${path}?name=${encodeURIComponent(file.name)}`, {
    method: "PUT",
    body: file,
    headers: { "Content-Type": "application/octet-stream" },
  });
  await toldBy(answer, "The server refused it.");
  return expect(api.GET("/api/shots/{shot}/about", { params: { path: { shot } } }));
}
