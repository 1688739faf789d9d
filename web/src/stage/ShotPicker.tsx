import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { api, expect, type Taken } from "../api/client";
import { altOf, captionOf } from "../shots/use";
import { Button } from "../ui/controls";

/** Picks one of the person's shots, the newest first. */
export function ShotPicker(props: { title: string; children?: React.ReactNode; onPick: (shot: Taken | null) => void }) {
  const list = useQuery({ queryKey: ["recent"], queryFn: () => expect(api.GET("/api/shots")) });
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
          {list.data?.length === 0 && (
            <p>There is no shot yet. Take one under Capture, or paste one there, and come back.</p>
          )}
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
          <div className="mt-3 flex justify-end">
            <Button onClick={() => props.onPick(null)}>Cancel</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
