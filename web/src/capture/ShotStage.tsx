import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { type Account, api, expect, type Figure, type StepContent, type Taken } from "../api/client";
import { storage } from "../api/storage";
import { core, loadCore } from "../core/core";
import type { Row } from "../manuscript/model";
import { Places, TopBar } from "../shell/TopBar";
import { Stage } from "../stage/Stage";
import { Blank, Button, useNotice } from "../ui/controls";
import { PlaceDialog } from "./PlaceDialog";
import { shots } from "../shots/shots";

/** One shot on the stage, with no document. Its marks are kept in this browser until it is placed. */
export function ShotStage({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const query = useQuery({
    queryKey: ["shot", id],
    queryFn: async () => {
      await loadCore();
      return expect(api.GET("/api/shots/{shot}/about", { params: { path: { shot: id } } }));
    },
    // Just taken, it may still be on its way.
    retry: 5,
    retryDelay: 600,
  });
  return (
    <>
      {query.data ? (
        <OneShot key={id} account={account} shot={query.data} />
      ) : (
        <>
          <TopBar account={account}>
            <Places account={account} />
          </TopBar>
          <Blank title={query.error ? "This shot can’t be opened" : "One moment…"}>
            {query.error?.message ?? "It may still be on its way to the server."}
          </Blank>
        </>
      )}
    </>
  );
}

function OneShot({ account, shot }: { account: Account; shot: Taken }) {
  const navigate = useNavigate();
  const notice = useNotice();
  const [content, setContent] = useState<StepContent>();
  const [asking, setAsking] = useState(false);
  const past = useRef<StepContent[]>([]);
  const future = useRef<StepContent[]>([]);
  useEffect(() => {
    void (async () => {
      const size = { w: shot.width, h: shot.height };
      const made = core.stepsOf([{ shot: shot.id, size, about: shot.about }])[0] as StepContent;
      const kept = await storage.figure(shot.id);
      setContent({ words: made.words, figures: kept ? [kept] : made.figures });
    })();
  }, [shot]);
  const show = (next: StepContent) => {
    setContent(next);
    void storage.saveFigure(shot.id, next.figures[0] as Figure);
  };
  const travel = (from: StepContent[], to: StepContent[]) => {
    const next = from.pop();
    if (!next || !content) return;
    to.push(content);
    show(next);
  };
  const latest = useRef(travel);
  useEffect(() => {
    latest.current = travel;
  });
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (
        !(e.ctrlKey || e.metaKey) ||
        e.key.toLowerCase() !== "z" ||
        (e.target as HTMLElement).matches("input, textarea")
      )
        return;
      e.preventDefault();
      if (e.shiftKey) latest.current(future.current, past.current);
      else latest.current(past.current, future.current);
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, []);
  const scale = async (width: number) => {
    try {
      const made = await expect(
        api.POST("/api/shots/{shot}/scaled", { params: { path: { shot: shot.id } }, body: { width } }),
      );
      void shots.refresh();
      notice({
        text: `A copy ${made.width} × ${made.height} pixels large lies next to it. The shot itself stays.`,
        action: { label: "Open the copy", run: () => void navigate(`/shot/${made.id}`) },
      });
    } catch (e) {
      notice({ text: (e as Error).message });
    }
  };
  const row: Row | undefined = content && { id: "shot", order: "", removed: false, content };
  const item = { ...shot, taken: shot };
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
        <span className="min-w-0 truncate text-mist">{shot.name}</span>
        <span className="flex-1" />
        <Button look="call" onClick={() => setAsking(true)}>
          Place as a step
        </Button>
      </TopBar>
      {shot.print && (
        <p className="flex items-center gap-3 border-l-[3px] border-call bg-paper px-4 py-2">
          {shot.width} × {shot.height} pixels: beside its words, its usual text will print at {shot.print.points} points
          {shot.print.points < 6 ? ", too small to read. Crop it to what matters." : "."} On a screen it is scaled down.
          <Button onClick={() => void scale(shot.print?.width ?? 0)}>Add a copy {shot.print.width} pixels wide</Button>
        </p>
      )}
      {row && (
        <Stage
          rows={[row]}
          row={row}
          figureID={row.content.figures[0]?.id ?? ""}
          picture={() => ({
            name: shot.name,
            size: { w: shot.width, h: shot.height },
            preview: `/api/shots/${shot.id}/preview`,
            whole: `/api/shots/${shot.id}`,
          })}
          onChange={(_, next) => {
            past.current.push(row.content);
            future.current = [];
            show(next);
          }}
          onUnfold={() => undefined}
          onFold={() => void navigate(-1)}
        />
      )}
      {asking && (
        <PlaceDialog items={[item]} title={shot.name.replace(/\.[a-z]+$/i, "")} onDone={() => setAsking(false)} />
      )}
    </>
  );
}
