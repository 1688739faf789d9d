import { sayMs } from "../../base/format";
import { useWhole } from "../../base/store";
import { Button } from "../../base/ui/controls";
import { Key } from "../../base/keys/Key";
import { filming } from "../../parts/capture/filming";
import { useRecorder } from "../../parts/capture/use";

export function useFilming() {
  useWhole(filming);
  return filming;
}

/** Begins a recording, or says how far it is and ends it. */
export function FilmBar() {
  const rec = useRecorder();
  const film = useFilming();
  if (film.state === "off") {
    return (
      <Button
        why={!rec.source && "Share a screen first."}
        title="A clip of what the choice under “Take” means"
        onClick={() => void rec.film()}
      >
        Record <Key name="R" />
      </Button>
    );
  }
  const paused = film.state === "paused";
  return (
    <div role="group" aria-label="Recording" className="flex items-center gap-1.5 rounded border border-mustfix px-1.5">
      <span aria-hidden className={`size-2.5 rounded-full ${paused ? "bg-soft" : "bg-mustfix"}`} />
      <span role="timer" className="w-12 font-mono text-sm">
        {sayMs(film.ms)}
      </span>
      {film.hears && (
        <>
          <meter
            aria-label="How loud the microphone is"
            min={0}
            max={1}
            value={film.muted ? 0 : film.level}
            className="h-3 w-12"
          />
          <Button small aria-pressed={film.muted} onClick={() => film.mute()}>
            {film.muted ? "Unmute" : "Mute"} <Key name="M" />
          </Button>
        </>
      )}
      <Button small disabled={film.state === "waiting"} onClick={() => film.pause()}>
        {paused ? "Go on" : "Pause"}
      </Button>
      <Button small look="main" disabled={film.state === "waiting"} onClick={() => void film.stop()}>
        End <Key name="R" />
      </Button>
    </div>
  );
}
