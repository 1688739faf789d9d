import { ask } from "../../base/api/ask";
import { momentShort } from "../../base/format";
import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";

/** What concerns this person, live, with how many they have not read. */
export default function NoticesMenu() {
  const [open, setOpen] = useState(false);
  const list = useQuery(ask("/api/notices"));
  const unread = list.data?.filter((n) => !n.read).length ?? 0;
  const read = (id?: string) => void api.PUT("/api/notices", { body: { id } });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="flex items-center gap-1.5 rounded px-2 py-1 text-mist hover:bg-deep data-[state=open]:bg-deep">
        Notices
        {unread > 0 && (
          <span className="rounded bg-call px-1.5 text-sm font-bold text-ink">
            {unread}
            <span className="sr-only"> not read</span>
          </span>
        )}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Notices"
          className="z-40 max-h-[70vh] w-[min(26rem,92vw)] overflow-y-auto rounded border border-soft bg-paper p-3 text-ink"
        >
          <div className="mb-1 flex items-center gap-2">
            <h2 className="flex-1 font-bold">What concerns you</h2>
            {unread > 0 && (
              <Button small onClick={() => read()}>
                I have read them all
              </Button>
            )}
          </div>
          {list.data?.length === 0 && (
            <p className="py-3 text-soft">
              Nothing yet. Here you hear of reviews, answers, releases, and when someone names you.
            </p>
          )}
          <ul className="divide-y divide-line">
            {list.data?.map((n) => (
              <li key={n.id}>
                <Link
                  to={n.path}
                  onClick={() => {
                    if (!n.read) read(n.id);
                    setOpen(false);
                  }}
                  className={`block border-l-[3px] px-2 py-1.5 hover:bg-desk ${n.read ? "border-transparent text-soft" : "border-call"}`}
                >
                  <span className="block">{shown(n.told)}</span>
                  <span className="block text-sm text-soft">{momentShort(n.at)}</span>
                </Link>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
