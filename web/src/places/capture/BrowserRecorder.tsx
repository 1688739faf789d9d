import { Link } from "react-router";
import { Button } from "../../base/ui/controls";
import { useBrowserRecorder } from "./browserRecorder";

/** Recording in web pages: begun and ended here where the recorder of this browser can be asked. */
export function BrowserRecorder() {
  const { status, tell } = useBrowserRecorder();
  const run = status?.run;
  return (
    <section className="rounded border border-line bg-paper p-5" aria-labelledby="browser-recorder">
      <h2 id="browser-recorder" className="text-lg font-bold">
        Record in web pages
      </h2>
      <p className="mt-1 mb-4 text-soft">
        Do the job once in any web application: each click becomes a picture of the moment before it, and a sentence.
      </p>
      {!run && (
        <p>
          Press the recorder’s button on the page.{" "}
          <Link to="/setup/recorders" className="text-action underline">
            Get the recorder
          </Link>
        </p>
      )}
      {run?.said && (
        <p role="alert" className="mb-2 text-mustfix">
          {run.said}
        </p>
      )}
      {run?.state === "idle" && (
        <Button look="main" onClick={() => tell("start")}>
          Start recording
        </Button>
      )}
      {run && run.state !== "idle" && (
        <div className="flex flex-wrap items-center gap-2">
          <span role="status" className="font-bold">
            {run.state === "paused" ? "Paused" : "Recording"}, {run.taken} taken
          </span>
          <Button onClick={() => tell(run.state === "paused" ? "go-on" : "pause")}>
            {run.state === "paused" ? "Go on" : "Pause"}
          </Button>
          <Button look="main" onClick={() => tell("stop")}>
            Stop
          </Button>
        </div>
      )}
      {status && status.waiting > 0 && (
        <p className="mt-2 text-sm text-look">
          {status.trouble} {status.waiting === 1 ? "1 picture waits" : `${status.waiting} pictures wait`} in the
          recorder.
        </p>
      )}
    </section>
  );
}
