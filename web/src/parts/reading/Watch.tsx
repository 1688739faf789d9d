import { useKeys } from "../../base/keys/useKeys";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button } from "../../base/ui/controls";
import { Failed } from "../../base/ui/states";

const often = 1000; // milliseconds between questions whether it is made
const captionsKey = "raconte-captions";

/** A document as a film: its steps are chapters, and captions are shown by choice. */
export function Watch({ id, onDone, goTo }: { id: string; onDone: () => void; goTo: (block: string) => void }) {
  const [still] = useState(() => matchMedia("(prefers-reduced-motion: reduce)").matches);
  const film = useQuery({
    ...ask("/api/documents/{document}/film", { path: { document: id }, query: { still } }),
    retry: false,
    staleTime: Infinity,
    refetchInterval: (q) => (q.state.data && !q.state.data.making.key && !q.state.data.making.error ? often : false),
  });
  const video = useRef<HTMLVideoElement>(null);
  const [at, setAt] = useState(0);
  const [captions, setCaptions] = useState(() => {
    try {
      return localStorage.getItem(captionsKey) === "on";
    } catch {
      return false; // a browser that keeps nothing
    }
  });
  const ready = Boolean(film.data?.making.key);
  useEffect(() => {
    const track = video.current?.textTracks[0];
    if (track) track.mode = captions ? "showing" : "hidden";
  }, [captions, ready]);
  const choose = (on: boolean) => {
    setCaptions(on);
    try {
      localStorage.setItem(captionsKey, on ? "on" : "off");
    } catch {
      // It lasts until the page is closed.
    }
  };
  const part = (name: string) =>
    `/api/documents/${encodeURIComponent(id)}/film/${name}?still=${still}&of=${film.data?.making.key ?? ""}`;
  const making = film.data?.making;
  const chapters = film.data?.chapters ?? [];
  const current = chapters.findLastIndex((c) => c.start <= at + 50);
  const seek = (ms: number) => {
    if (!video.current) return;
    video.current.currentTime = ms / 1000 + 0.02;
    void video.current.play().catch(() => undefined);
  };
  useKeys("The film", [
    { keys: ["Page Down", "Page Up"], does: "Go to the next step, or the one before, while the film has the keyboard" },
    { keys: "C", does: "Show captions, or not" },
  ]);
  const keys = (e: React.KeyboardEvent) => {
    const by = { PageUp: -1, PageDown: 1 }[e.key];
    const to = by && chapters[current + by];
    if (to) seek(to.start);
    else if (e.key === "c" && film.data?.captions) choose(!captions);
    else return;
    e.preventDefault();
  };
  return (
    <section aria-label="Film" onKeyDown={keys} className="mb-6 print:hidden">
      {film.error && <Failed error={film.error} again={() => void film.refetch()} />}
      {making?.error && (
        <p role="alert" className="text-mustfix">
          {making.error}{" "}
          <Button small onClick={() => void film.refetch()}>
            Try again
          </Button>
        </p>
      )}
      {film.data && !ready && !making?.error && (
        <p role="status" className="py-3">
          The film is being made
          {making && making.total > 0 ? `: ${Math.round((100 * making.done) / making.total)} %` : ""}. It is made once,
          for everybody; the steps are below meanwhile.
        </p>
      )}
      {ready && (
        <div className="grid gap-4 md:grid-cols-[minmax(0,1fr)_17rem]">
          <video
            ref={video}
            controls
            src={part("mp4")}
            aria-label="The film"
            onTimeUpdate={(e) => setAt(e.currentTarget.currentTime * 1000)}
            className="w-full border border-line bg-ink"
          >
            {film.data?.captions && <track kind="captions" src={part("vtt")} label="Captions" />}
          </video>
          <nav aria-label="Steps of the film" className="max-h-[60dvh] overflow-y-auto">
            <ol className="space-y-0.5">
              {chapters.map((c, i) => (
                <li key={c.block}>
                  <button
                    type="button"
                    aria-current={i === current ? "step" : undefined}
                    onClick={() => seek(c.start)}
                    className={`w-full rounded px-2 py-1 text-left text-sm hover:bg-desk ${i === current ? "bg-desk font-bold" : ""}`}
                  >
                    {c.name}
                  </button>
                </li>
              ))}
            </ol>
          </nav>
        </div>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-4 text-sm">
        {ready && film.data?.captions && (
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={captions} onChange={(e) => choose(e.target.checked)} />
            Captions <kbd className="font-mono text-xs text-soft">C</kbd>
          </label>
        )}
        {ready && <span className="text-soft">Page Up and Page Down go from step to step.</span>}
        {ready && current > 0 && (
          <button
            type="button"
            className="text-action underline"
            onClick={() => {
              video.current?.pause();
              goTo(chapters[current]?.block ?? "");
            }}
          >
            Read this step
          </button>
        )}
        <Button small onClick={onDone}>
          Close the film
        </Button>
      </div>
    </section>
  );
}
