import { useEffect, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Account } from "../../base/api/client";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Button } from "../../base/ui/controls";
import { Key } from "../../base/keys/Key";
import { doAfter } from "../../parts/capture/after";
import { BrowserRecorder } from "./BrowserRecorder";
import { FilmBar, useFilming } from "./FilmBar";
import { filming } from "../../parts/capture/filming";
import { FloatingControl, useCaptureKeys } from "./Floating";
import { handInto } from "../../parts/capture/into";
import { Live } from "./Live";
import { useEvents } from "../../base/api/events";
import { shots } from "../../parts/shots/shots";
import { SessionList } from "./SessionList";
import { Summary } from "./Summary";
import { useTitle } from "../../base/ui/title";
import { useInflow } from "../../parts/capture/useInflow";
import { useRecorder } from "../../parts/capture/use";

/** The place where shots are taken. */
export function Capture({ account }: { account: Account }) {
  const rec = useRecorder();
  const navigate = useNavigate();
  useTitle("Capture");
  useInflow();
  useCaptureKeys(window);
  // A run that a recorder sends is seen to grow, unless something is taken here.
  useEvents({
    shot: (taken) => {
      if (!rec.source && taken.about.source === "feed" && taken.capture) void shots.follow(taken.capture);
    },
  });
  // Taken for a step that is being written, a shot goes there, and so does the person.
  const [search] = useSearchParams();
  const [target, step] = [search.get("document"), search.get("step")];
  const [late, setLate] = useState(false);
  const [choosing, setChoosing] = useState(false);
  useEffect(() => void filming.recover(), []);
  useEffect(() => {
    rec.onTook = (item, after) => {
      if (target && step) {
        void handInto(target, step, item).then((there) =>
          there ? navigate(`/d/${target}/write?block=${step}`) : setLate(true),
        );
      } else if (after) {
        void doAfter(item, after, (text, bad) => rec.say(text, bad)).then((to) => to && navigate(to));
      }
    };
    return () => void (rec.onTook = undefined);
  }, [rec, navigate, target, step]);
  return (
    <div className="flex h-dvh flex-col">
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main
        className={`grid min-h-0 flex-1 ${choosing ? "grid-cols-[minmax(20rem,46rem)_minmax(0,1fr)]" : "grid-cols-[18rem_minmax(0,1fr)]"}`}
      >
        <h1 className="sr-only">Capture</h1>
        <div className="flex min-h-0 flex-col border-r border-line bg-paper">
          <Summary open={choosing} onOpen={setChoosing} />
          {!choosing && <SessionList />}
        </div>
        <div className="flex min-h-0 min-w-0 flex-col">
          {target && step && (
            <p role="status" className="border-l-[3px] border-call bg-paper px-4 py-2">
              {late
                ? "The shot is not on the server yet; it stays in the session, and you can place it from there. "
                : "The next shot you take goes into the step that you were writing, and leads back to it. "}
              <Link to={`/d/${target}/write?block=${step}`} className="text-action underline">
                Back without a shot
              </Link>
            </p>
          )}
          {rec.source && <Bar />}
          <div className="relative flex min-h-0 flex-1 flex-col">
            {rec.said && (
              // Over what is shown: nothing is pushed down by it.
              <p
                role={rec.said.bad ? "alert" : "status"}
                className={`absolute inset-x-4 top-2 z-10 rounded border border-line border-l-[3px] bg-paper px-4 py-2 ${rec.said.bad ? "border-l-mustfix" : "border-l-call"}`}
              >
                {rec.said.text}
              </p>
            )}
            {rec.source ? <Live /> : <Begin />}
            {rec.source?.kind === "practice" && (
              <p className="bg-desk px-4 py-1 text-sm text-soft">
                Keys and clicks go to the workstation. Hold Alt to see what would be taken; Shift and Tab leave it.
              </p>
            )}
          </div>
        </div>
      </main>
    </div>
  );
}

function Bar() {
  const rec = useRecorder();
  const filming = useFilming().state !== "off";
  const joining = rec.parts > 0;
  return (
    <div className="flex min-h-12 shrink-0 flex-wrap items-center gap-2 px-4 py-1.5">
      {filming && <FilmBar />}
      <Button look="main" onClick={() => void rec.take()}>
        {joining ? "Take the next part" : "Take"} <Key name="T" />
      </Button>
      {joining && <Button onClick={() => void rec.join()}>Join {rec.parts} parts</Button>}
      <Button onClick={() => void rec.again()}>
        Same area <Key name="A" />
      </Button>
      {!filming && (
        <>
          <Button aria-pressed={rec.paused} onClick={() => rec.pause()}>
            {rec.paused ? "Go on" : "Pause"} <Key name="P" />
          </Button>
          <Button
            aria-pressed={rec.plain}
            title="Only keep the next: it stays in the session, and nothing else is done with it"
            className="aria-pressed:border-action aria-pressed:bg-action aria-pressed:text-paper"
            onClick={() => rec.keepNext()}
          >
            Only keep the next <Key name="K" />
          </Button>
        </>
      )}
      {!filming && <FilmBar />}
      <span className="flex-1" />
      <Monitors />
      <FloatingControl />
      <Button onClick={() => rec.stop()}>{rec.source?.kind === "screen" ? "Stop sharing" : "Stop"}</Button>
    </div>
  );
}

/** Which monitor is shown; nothing where the source has one. */
function Monitors() {
  const rec = useRecorder();
  const [names, setNames] = useState<string[]>([]);
  const source = rec.source;
  useEffect(() => {
    void source?.screen().then((s) => setNames(s.monitors.map((m) => m.id)));
  }, [source]);
  if (names.length < 2) return null;
  return (
    <select
      aria-label="Show"
      value={rec.monitor ?? ""}
      onChange={(e) => rec.show(e.target.value || undefined)}
      className="rounded border border-soft bg-paper px-2 py-1.5"
    >
      {names.map((n) => (
        <option key={n} value={n}>
          {`${n.charAt(0).toUpperCase()}${n.slice(1)} monitor`}
        </option>
      ))}
      <option value="">All monitors</option>
    </select>
  );
}

function Begin() {
  const rec = useRecorder();
  const [waiting, setWaiting] = useState<string>();
  const open = async (kind: "screen" | "practice") => {
    setWaiting(kind);
    await rec.open(kind);
    setWaiting(undefined);
  };
  return (
    <div className="flex flex-1 items-center justify-center p-6">
      <div className="grid max-w-2xl grid-cols-2 gap-4">
        <section className="rounded border border-line bg-paper p-5">
          <h2 className="text-lg font-bold">Share a screen</h2>
          <p className="mt-1 mb-4 text-soft">
            Your browser asks which monitor, window or tab. It stays shared for the whole session, and nothing is kept
            but what you take.
          </p>
          <Button look="main" disabled={waiting !== undefined} onClick={() => void open("screen")}>
            {waiting === "screen" ? "Waiting for your choice …" : "Share a screen"}
          </Button>
        </section>
        <section className="rounded border border-line bg-paper p-5">
          <h2 className="text-lg font-bold">Practice workstation</h2>
          <p className="mt-1 mb-4 text-soft">
            A simulated computer with two monitors and a program for cold stores, to try everything on. Nothing on it is
            real.
          </p>
          <Button disabled={waiting !== undefined} onClick={() => void open("practice")}>
            {waiting === "practice" ? "Starting …" : "Start the workstation"}
          </Button>
        </section>
        <BrowserRecorder />
        <section className="rounded border border-line bg-paper p-5">
          <h2 className="text-lg font-bold">Practice in the browser</h2>
          <p className="mt-1 mb-4 text-soft">A small web application for cold stores, to try the recorder on.</p>
          <a href="/practice" target="_blank" className="text-action underline">
            Open the practice page
          </a>
        </section>
        <p className="col-span-2 text-center text-soft">
          Or paste a picture with Ctrl+V, as often as you like, or drop files and folders anywhere.
        </p>
      </div>
    </div>
  );
}
