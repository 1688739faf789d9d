import { sayMs } from "../../base/format";
import { useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { format } from "../../base/api/format";
import { type Account, type Facts } from "../../base/api/client";
import { core, type FilmPlan } from "../../base/core/core";
import { Progress } from "../../parts/deliveries/Progress";
import { useDeliveries, useOrder } from "../../parts/deliveries/useDeliveries";
import type { Draft } from "../../parts/document/draft";
import { pictureOf } from "../../parts/document/picture";
import { useAround } from "../../parts/words/useAround";
import { useChanges, useDraft } from "../../parts/document/useDraft";
import { useUndo } from "../../parts/document/useUndo";
import type { Uploads } from "../../parts/document/uploads";
import { StateBadge, TopBar } from "../../parts/bar/TopBar";
import { DocumentBar } from "../../parts/bar/DocumentBar";
import { styleOf, useHouseStyles } from "../../parts/house/useHouseStyles";
import { Blank, Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { FilmPlayer } from "./FilmPlayer";
import { FilmRow } from "./FilmRow";
import { FilmSettings } from "./FilmSettings";
import { useLengths } from "../../parts/clips/speech";
import { Few } from "../../base/ui/Few";

/** A document as a film: what is seen and said of each step, how long it takes, and any of it played at once. */
export default function FilmPlanView({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const { opened, problem } = useDraft(id, account);
  if (problem || !opened) {
    return (
      <>
        <TopBar account={account} />
        {problem ? (
          <Blank title="This document can’t be opened">
            {problem.message}{" "}
            <Link to="/" className="text-action underline">
              Go to the library
            </Link>
          </Blank>
        ) : (
          <Loading what="the document" />
        )}
      </>
    );
  }
  return <Planned key={id} id={id} account={account} draft={opened.draft} uploads={opened.uploads} />;
}

const forms = { mp4: "MP4", webm: "WebM", vtt: "Captions", transcript: "Transcript", sound: "Sound only" };

function Planned(props: { id: string; account: Account; draft: Draft; uploads: Uploads }) {
  const { id, account, draft, uploads } = props;
  useChanges({ draft, uploads });
  useTitle(`Film of ${shown(draft.title)}`);
  useUndo(draft);
  const rows = draft.blocks();
  const numbers = core.numbers(rows, draft.facts.counting);
  const { shown: known } = useAround(id, draft, rows, numbers);
  const styles = useHouseStyles();
  const style = styleOf(styles.data, draft.facts)?.style;
  const film = draft.facts.film ?? {};
  const sizes = useMemo(
    () => Object.fromEntries([...draft.shots.values()].map((s) => [s.id, { w: s.width, h: s.height }])),
    [draft.shots],
  );
  const document = {
    format,
    id,
    kind: draft.kind,
    facts: draft.facts,
    blocks: rows.map((r) => ({ id: r.id, ...r.content })),
  };
  const key = JSON.stringify([document, known]);
  const guessed = useMemo(
    () => core.filmPlan(document, known ?? {}, sizes, {}),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key tells the document
    [key, sizes],
  );
  const { lengths, speaks, waiting } = useLengths(
    texts(guessed),
    style?.language ?? "en",
    film.pace ?? 0,
    !film.silent,
  );
  const plan = useMemo(
    () => core.filmPlan(document, known ?? {}, sizes, lengths),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key tells the document
    [key, sizes, lengths],
  );
  const [at, setAt] = useState(0); // of the whole film
  const [playing, setPlaying] = useState<"" | "scene" | "all">("");
  const scene = plan.scenes.findIndex((s) => at < s.start + s.length);
  const now = plan.scenes[scene < 0 ? plan.scenes.length - 1 : scene];
  const setFilm = (label: string, next: Facts["film"]) => draft.setFacts(label, { film: next });
  useEffect(() => setPlaying(""), [key]);
  const told = new Map(plan.scenes.map((s) => [s.id, s]));
  const missing = plan.scenes.filter((s) => s.missing).length;
  const play = (start: number, how: "scene" | "all") => {
    setAt(start);
    setPlaying(how);
  };
  return (
    <>
      <DocumentBar
        account={account}
        id={id}
        title={draft.title}
        standing={<StateBadge kind={draft.kind} state={draft.state} revision={draft.revision} />}
      />
      <main className="grid grid-cols-[minmax(0,1fr)_27rem] gap-5 px-5 py-3">
        <h1 className="sr-only">Film of {shown(draft.title)}</h1>
        <section aria-label="What is told" className="min-w-0">
          <p className="mb-2 flex flex-wrap items-baseline gap-x-3">
            <strong>
              {plan.scenes.length === 1 ? "1 scene" : `${plan.scenes.length} scenes`}, {sayMs(plan.length)}
            </strong>
            <span className="text-sm text-soft" role="status">
              {waiting > 0 && `${waiting} still guessed: their words are being spoken. `}
              {missing > 0 && `${missing} lack something. `}
              {!speaks &&
                !film.silent &&
                "There is no synthetic voice on this server: words are read, or record your own. "}
            </span>
          </p>
          <ol className="space-y-1.5">
            <FilmRow
              scene={plan.scenes[0]}
              current={now?.id === "title"}
              onPlay={() => play(0, "scene")}
              heading="Title"
            />
            {rows.map((r) => (
              <FilmRow
                key={r.id}
                document={id}
                row={r}
                number={numbers.blocks[r.id]}
                scene={told.get(r.id)}
                current={now?.id === r.id}
                draft={draft}
                silent={film.silent ?? false}
                onPlay={() => play(told.get(r.id)?.start ?? 0, "scene")}
              />
            ))}
          </ol>
        </section>
        <aside
          aria-label="The film"
          className="sticky top-14 max-h-[calc(100dvh-4rem)] self-start overflow-y-auto pb-3"
        >
          {style && now && (
            <FilmPlayer
              plan={plan}
              at={at}
              playing={playing}
              onAt={setAt}
              onPlaying={setPlaying}
              document={id}
              style={style}
              rows={rows}
              firsts={numbers.markers}
              pace={film.pace ?? 0}
              speaks={speaks && !film.silent}
              picture={(shot) => pictureOf(shot, draft, uploads)}
            />
          )}
          {styles.error && <Failed error={styles.error} again={() => void styles.refetch()} />}
          <Make id={id} saved={draft.status.kind === "saved"} />
          <FilmSettings film={film} speaks={speaks} onChange={setFilm} />
        </aside>
      </main>
    </>
  );
}

/** All that is spoken by a synthetic voice, each once. */
const texts = (plan: FilmPlan) => [...new Set(plan.scenes.flatMap((s) => (s.said && !s.voice ? [s.said] : [])))];

/** Makes the film, in the background, and shows how far it is. */
function Make({ id, saved }: { id: string; saved: boolean }) {
  const order = useOrder();
  const list = useDeliveries(id);
  const [form, setForm] = useState<keyof typeof forms>("mp4");
  const made = (list.data ?? []).filter((d) => /\bfilm\b/i.test(d.format)).slice(0, 3);
  return (
    <section aria-label="Make the film" className="mt-3 space-y-2 border-t border-line pt-3">
      <div className="flex gap-2">
        <Few label="As" value={form} options={forms} onPick={setForm} />
        <Button
          look="main"
          disabled={order.isPending}
          why={!saved && "Your last changes are still being saved."}
          onClick={() => order.mutate({ document: id, format: form })}
        >
          Make the film
        </Button>
      </div>
      {order.error && (
        <p role="alert" className="text-mustfix">
          {order.error.message}
        </p>
      )}
      <ul className="space-y-1 text-sm">
        {made.map((d) => (
          <li key={d.id} className="flex items-center gap-2">
            <span className="w-24 shrink-0 text-soft">
              {d.format
                .replace(/ of the film|Film, | with chapters and captions/g, "")
                .replace(", WebVTT", "")
                .replace(", M4A", "")}
            </span>
            <Progress of={d} />
          </li>
        ))}
      </ul>
    </section>
  );
}
