import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Account, api, type Present } from "../../base/api/client";
import { useEvents } from "../../base/api/events";
import { newID } from "../../base/api/id";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";

const again = 10_000; // milliseconds

/** Who else has a document open and where they are; whether a step may be written, or is being written by another. */
export function usePresence(document: string, account: Account, writing: string | undefined, onTaken: () => void) {
  const notice = useNotice();
  const [page] = useState(newID);
  const [all, setAll] = useState<Present[]>([]);
  const [asked, setAsked] = useState<Present>();
  const taking = useRef(false);
  const say = useCallback(
    async (body: { at?: string; writing?: boolean; take?: boolean; gone?: boolean }) => {
      try {
        const path = { document };
        const { data } = await api.PUT("/api/documents/{document}/presence", {
          params: { path },
          body: { page, ...body },
          keepalive: body.gone,
        });
        if (data && !body.gone) setAll(data);
      } catch {
        // The server can't be reached: nobody is seen, and nothing depends on it.
      }
    },
    [document, page],
  );
  useEffect(() => {
    const here = () => {
      void say({ at: writing, writing: writing !== undefined, take: taking.current });
      taking.current = false;
    };
    here();
    const timer = setInterval(here, again);
    return () => clearInterval(timer);
  }, [say, writing]);
  useEffect(() => {
    const gone = () => void say({ gone: true });
    addEventListener("pagehide", gone);
    return () => {
      removeEventListener("pagehide", gone);
      gone();
    };
  }, [say]);
  useEvents({
    presence: (e) => {
      if (e.document !== document) return;
      setAll(e.present);
      if (e.taken === page) {
        onTaken();
        const by = e.present.find((p) => p.writing && p.at === writing);
        notice({ text: `${shown(by?.name ?? "Someone")} has taken this step over. What you have written is kept.` });
      }
    },
  });
  const others = useMemo(() => all.filter((p) => p.page !== page), [all, page]);
  const current = useRef(others);
  useEffect(() => {
    current.current = others;
  }, [others]);
  /** Whether a step may be written at once; where another writes it, it is asked first. */
  const mayWrite = useCallback(
    (block: string | undefined) => {
      const by = block && current.current.find((p) => p.writing && p.at === block && p.account !== account.id);
      if (!by) return true;
      setAsked(by);
      return false;
    },
    [account.id],
  );
  return {
    others,
    mayWrite,
    asked,
    take: () => {
      taking.current = true;
      setAsked(undefined);
    },
    wait: () => setAsked(undefined),
  };
}

/** Who else is at a block, in one word that changes only when that does: their name, after a sign where they write. */
export function byOf(present: Present[], block: string): string {
  const at = present.filter((p) => p.at === block);
  const by = at.find((p) => p.writing) ?? at[0];
  return by ? `${by.writing ? "+" : "-"}${by.account} ${by.name}` : "";
}
