import { useEffect, useState, useSyncExternalStore } from "react";
import { type Account, api, expect, type Problem } from "../api/client";
import { useEvents } from "../api/events";
import { loadCore } from "../core/core";
import { Draft } from "./draft";
import { Uploads } from "./uploads";

type Opened = { draft: Draft; uploads: Uploads };

/** Opens a document for editing and keeps it in step with the server. */
export function useDraft(id: string, account: Account): { opened?: Opened; problem?: Problem } {
  const [opened, setOpened] = useState<Opened>();
  const [problem, setProblem] = useState<Problem>();
  useEffect(() => {
    let made: Opened | undefined;
    let gone = false;
    void (async () => {
      try {
        const [whole] = await Promise.all([
          expect(api.GET("/api/documents/{document}", { params: { path: { document: id } } })),
          loadCore(),
        ]);
        const draft = await Draft.open(account.id, whole);
        if (gone) return;
        const uploads = new Uploads(id, (shot) => draft.shotArrived(shot));
        draft.awaiting = (shot) => uploads.get(shot) !== undefined;
        await uploads.resume((shot) => draft.shots.has(shot));
        made = { draft, uploads };
        setOpened(made);
      } catch (e) {
        setProblem(e as Problem);
      }
    })();
    const keep = () => void made?.draft.keep();
    addEventListener("pagehide", keep);
    return () => {
      gone = true;
      removeEventListener("pagehide", keep);
      made?.draft.close();
      made?.uploads.close();
      setOpened(undefined);
    };
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
