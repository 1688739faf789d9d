import { useEffect, useState, useSyncExternalStore } from "react";
import { storage } from "../../base/storage/storage";
import { type Account, api, expect } from "../../base/api/client";
import { useEvents } from "../../base/api/events";
import { loadCore } from "../../base/core/core";
import { outbox } from "../outbox/outbox";
import { Draft } from "./draft";
import { Uploads } from "./uploads";
import { reasonOf } from "../../base/reason";

type Opened = { draft: Draft; uploads: Uploads };

/** Documents that were left before all of them was saved: they are saved on, and found again by who comes back. */
const lingering = new Map<string, Opened>();

async function open(id: string, account: Account): Promise<Opened> {
  const left = lingering.get(id);
  if (left) {
    lingering.delete(id);
    outbox.unsaved(id, undefined);
    void left.draft.catchUp();
    return left;
  }
  const [whole] = await Promise.all([
    expect(api.GET("/api/documents/{document}", { params: { path: { document: id } } })),
    loadCore(),
    outbox.start(),
  ]);
  const draft = await Draft.open(account.id, whole);
  const uploads = new Uploads(id, (shot) => draft.shotArrived(shot));
  draft.awaiting = (shot) => uploads.get(shot) !== undefined && !draft.shots.has(shot);
  return { draft, uploads };
}

/** Leaves a document: what is not saved yet, because its pictures are on their way, is saved wherever the person is. */
function leave(id: string, opened: Opened) {
  lingering.set(id, opened);
  outbox.unsaved(id, opened.draft.status.kind === "saved" ? undefined : opened.draft.title);
  void opened.draft.settled().then(() => {
    if (lingering.get(id) !== opened) return; // someone came back
    lingering.delete(id);
    outbox.unsaved(id, undefined);
    opened.draft.close();
    opened.uploads.close();
  });
}

/** Saves what earlier pages left unsaved, of every document. What needs a person's choice waits for the document. */
export async function resumeDrafts(account: Account) {
  for (const id of await storage.unsaved().catch(() => [])) {
    if (lingering.has(id) || location.pathname === `/d/${id}/write`) continue;
    try {
      leave(id, await open(id, account));
    } catch {
      // It can't be had now, or not any more: what is kept stays kept.
    }
  }
}

/** Opens a document for editing and keeps it in step with the server. */
export function useDraft(id: string, account: Account): { opened?: Opened; problem?: Error } {
  const [opened, setOpened] = useState<Opened>();
  const [problem, setProblem] = useState<Error>();
  useEffect(() => {
    let made: Opened | undefined;
    let gone = false;
    void (async () => {
      try {
        const now = await open(id, account);
        if (gone) {
          leave(id, now);
          return;
        }
        made = now;
        setOpened(made);
      } catch (e) {
        setProblem(e instanceof Error ? e : new Error(reasonOf(e)));
      }
    })();
    const keep = () => void made?.draft.keep();
    addEventListener("pagehide", keep);
    return () => {
      gone = true;
      removeEventListener("pagehide", keep);
      if (made) leave(id, made);
      setOpened(undefined);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- an account is one person's for as long as the page lives
  }, [id, account.id]);
  useEvents({
    document: (e) => void (e.document === id && opened?.draft.heard(e)),
    opened: () => void opened?.draft.catchUp().then(() => opened.draft.schedule(0)),
  });
  return { opened, problem };
}

const nothing = () => () => undefined;
const zero = () => 0;

/** Shows the component again whenever the draft or its uploads change. */
export function useChanges(opened: Opened | undefined) {
  const a = useSyncExternalStore(opened?.draft.subscribe ?? nothing, opened?.draft.snapshot ?? zero);
  const b = useSyncExternalStore(opened?.uploads.subscribe ?? nothing, opened?.uploads.snapshot ?? zero);
  return a * 1e6 + b;
}
