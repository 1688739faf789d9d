import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { settings } from "../../parts/shots/settings";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Account, api, expect, type Figure, type Content, type Taken } from "../../base/api/client";
import { type FigureDeed, storage } from "../../base/storage/storage";
import { readFigure } from "../../base/storage/upgrade";
import { clipOf } from "../../parts/clips/time";
import { core } from "../../base/core/core";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import type { Row } from "../../parts/document/model";
import { Past } from "../../parts/document/past";
import { useUndoKeys } from "../../parts/document/useUndo";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Stage } from "../../parts/stage/Stage";
import { joins } from "../../parts/stage/useStage";
import { Actions, Blank, Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { PlaceDialog } from "./PlaceDialog";
import { beginReport, type ReportKind } from "../../parts/reports/begin";
import { shots } from "../../parts/shots/shots";
import { useShots } from "../../parts/shots/use";
import { usePictureOpens } from "./Picture";
import { sure } from "../../base/typed";

/** One shot on the stage, with no document. Its marks are kept in this browser until it is placed. */
export function ShotStage({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const local = useShots().get(id);
  usePictureOpens();
  const query = useQuery({
    ...ask("/api/shots/{shot}/about", { path: { shot: id } }),
    enabled: !local || local.taken !== undefined,
    // Just taken, it may still be on its way.
    retry: 5,
    retryDelay: 600,
  });
  // Just pasted, it is shown from this browser before it has gone up.
  const here = useMemo(
    () =>
      local && local.width > 0 && !local.taken && { ...local, bytes: 0, place: 0, verdict: "" as const, uneven: false },
    [local],
  );
  // In the moment between, what the server answered to the upload stands in: the stage never goes away.
  const shot = query.data ?? local?.taken ?? (here || undefined);
  return (
    <>
      {shot ? (
        <OneShot key={id} account={account} shot={shot as Taken} blob={local?.blob} />
      ) : (
        <>
          <TopBar account={account}>
            <Places account={account} />
          </TopBar>
          <Blank title={query.error || local?.error ? "This picture can’t be opened" : "One moment…"}>
            {local?.error ?? query.error?.message ?? "It may still be on its way to the server."}
          </Blank>
        </>
      )}
    </>
  );
}

/** Whether another screen was there before this one, in this tab. */
const cameFrom = () => ((history.state as { idx?: number } | null)?.idx ?? 0) > 0;

/** Where a shot is used: the first step that shows it, and how many more do. */
function Uses({ shot }: { shot: string }) {
  const uses = useQuery({
    ...ask("/api/shots/{shot}/uses", { path: { shot } }),
    retry: false, // just taken, it is used nowhere yet
  });
  const [first, ...more] = uses.data ?? [];
  if (!first) return null;
  return (
    <span className="truncate text-sm text-mist">
      Used in{" "}
      <Link to={`/d/${first.document}/write?block=${first.block}`} className="underline hover:text-paper">
        {shown(first.title)}
      </Link>
      {more.length > 0 && ` and ${more.length === 1 ? "1 more step" : `${more.length} more steps`}`}
    </span>
  );
}

function OneShot({ account, shot, blob }: { account: Account; shot: Taken; blob?: Blob }) {
  const navigate = useNavigate();
  const notice = useNotice();
  useTitle(shot.name);
  const [content, setContent] = useState<Content>();
  const [asking, setAsking] = useState(false);
  const past = useRef(new Past<FigureDeed>());
  const now = useRef<Figure>(undefined);
  // From this browser while it is not on the server, and for as long as it is open: it does not blink.
  const [own] = useState(() => blob && URL.createObjectURL(blob));
  useEffect(() => () => void (own && URL.revokeObjectURL(own)), [own]);
  const show = useCallback(
    (figure: Figure) => {
      now.current = figure;
      setContent((c) => c && { ...c, figures: [figure] });
      const { deeds, position } = past.current;
      void storage.saveFigure(shot.id, { figure, deeds, position });
    },
    [shot.id],
  );
  const made = useRef(false);
  useEffect(() => {
    if (made.current) {
      // What is known of a recording may come after its picture.
      const { current } = now;
      if (shot.clip && current && !current.clip) show({ ...current, clip: clipOf(shot.clip) });
      return;
    }
    made.current = true;
    void (async () => {
      const size = { w: shot.width, h: shot.height };
      const made = sure(core.stepsOf([{ shot: shot.id, size, about: shot.about }], settings())[0]);
      const kept = await readFigure(shot.id);
      past.current = new Past(kept?.deeds, kept?.position);
      const [fresh] = made.figures.map((f) => (shot.clip ? { ...f, clip: clipOf(shot.clip) } : f));
      now.current = kept?.figure ?? fresh;
      setContent({ type: made.type, words: made.words, figures: now.current ? [now.current] : [] });
    })();
  }, [shot, show]);
  const travel = (how: "undo" | "redo") => {
    const deed = how === "undo" ? past.current.back() : past.current.on();
    if (deed) show(how === "undo" ? deed.before : deed.after);
  };
  useUndoKeys(travel);
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
      notice({ text: reasonOf(e) });
    }
  };
  /** Makes a report or a request of the picture, marked as it is. */
  const hand = async (kind: ReportKind) => {
    const figure = content?.figures[0];
    if (!figure) return;
    try {
      await navigate(await beginReport(kind, { shot, figure }));
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const row: Row | undefined = content && { id: "shot", order: "", removed: false, content };
  const item = { ...shot, taken: shot };
  const picture = useCallback(
    (id: string) => {
      const mine = id === shot.id ? own : undefined;
      return {
        name: shot.name,
        ...(id === shot.id && { size: { w: shot.width, h: shot.height } }),
        preview: mine ?? `/api/shots/${id}/preview`,
        whole: mine ?? `/api/shots/${id}`,
        ...(shot.bytes === 0 && { progress: 0.5 }),
      };
    },
    [shot, own],
  );
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
        <span className="min-w-0 truncate text-mist">{shot.name}</span>
        <Uses shot={shot.id} />
        <span className="flex-1" />
        <Button look="dark" onClick={() => setAsking(true)}>
          Place as a step
        </Button>
        <Actions
          label="What else to make of it"
          className="rounded px-2 py-1.5 text-paper hover:bg-deep data-[state=open]:bg-deep"
          choices={[
            { label: "Ask for help", run: () => void hand("request") },
            { label: "Write an answer", run: () => void hand("answer") },
          ]}
        >
          …
        </Actions>
        <Button look="call" onClick={() => void hand("report")}>
          Report a fault
        </Button>
      </TopBar>
      {shot.print && (
        <p className="flex items-center gap-3 border-l-[3px] border-call bg-paper px-4 py-2">
          {shot.width} × {shot.height} pixels: beside its words, its usual text will print at {shot.print.points}{" "}
          {shot.print.points === 1 ? "point" : "points"}
          {shot.print.points < 6 ? ", too small to read. Crop it to what matters." : "."} On a screen it is scaled down.
          <Button onClick={() => void scale(shot.print?.width ?? 0)}>Add a copy {shot.print.width} pixels wide</Button>
        </p>
      )}
      {row && (
        <Stage
          rows={[row]}
          numbers={core.numbers([row])}
          row={row}
          figureID={row.content.figures[0]?.id ?? ""}
          picture={picture}
          onFigure={(label, change) => {
            const before = now.current;
            if (!before) return;
            const after = change(before);
            past.current.add({ label, at: Date.now(), before, after }, (last) =>
              joins(label) ? { ...last, after, at: Date.now() } : undefined,
            );
            show(after);
          }}
          onOpen={() => undefined}
          onEscape={() => undefined} // what was worked on stays in sight
          onClose={() => void (cameFrom() ? navigate(-1) : navigate("/capture/shots"))}
        />
      )}
      {asking && (
        <PlaceDialog items={[item]} title={shot.name.replace(/\.[a-z]+$/i, "")} onDone={() => setAsking(false)} />
      )}
    </>
  );
}
