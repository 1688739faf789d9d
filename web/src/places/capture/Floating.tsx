import { type ReactNode, useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { Button } from "../../base/ui/controls";
import { fields } from "../../base/ui/fields";
import { letterKeys } from "../../base/storage/letterKeys";
import { useShots } from "../../parts/shots/use";
import { FilmBar } from "./FilmBar";
import { filming } from "../../parts/capture/filming";
import { useRecorder } from "../../parts/capture/use";

type PictureInPicture = { requestWindow(size: { width: number; height: number }): Promise<Window> };

const offered = () => (globalThis as { documentPictureInPicture?: PictureInPicture }).documentPictureInPicture;

/** A small window of its own that stays on top, so that Raconte can stay behind the program being shown. */
export function FloatingControl() {
  const [win, setWin] = useState<Window>();
  const pip = offered();
  useEffect(() => () => win?.close(), [win]);
  if (!pip) return null;
  const open = async () => {
    const made = await pip.requestWindow({ width: 420, height: 132 });
    for (const sheet of document.querySelectorAll("link[rel=stylesheet], style")) {
      made.document.head.append(sheet.cloneNode(true));
    }
    made.document.title = "Raconte";
    made.addEventListener("pagehide", () => setWin(undefined));
    setWin(made);
  };
  return (
    <>
      <Button onClick={() => void open()} disabled={win !== undefined} title="A small window that stays on top">
        Small control
      </Button>
      {win &&
        createPortal(
          <Keys on={win.document}>
            <Controls />
          </Keys>,
          win.document.body,
        )}
    </>
  );
}

function Keys({ on, children }: { on: Document; children: ReactNode }) {
  useCaptureKeys(on, true);
  return children;
}

function Controls() {
  const rec = useRecorder();
  const shots = useShots();
  return (
    <div className="flex h-dvh flex-col justify-center gap-1 bg-paper px-3">
      <div className="flex items-center gap-2">
        <strong className="min-w-10 text-lg">{rec.countdown ?? shots.count}</strong>
        <Button look="main" why={!rec.source && "Share a screen first."} onClick={() => void rec.take()}>
          Take
        </Button>
        <Button why={!rec.source && "Share a screen first."} onClick={() => void rec.again()}>
          Same area
        </Button>
        <Button why={!rec.source && "Share a screen first."} onClick={() => rec.pause()}>
          {rec.paused ? "Go on" : "Pause"}
        </Button>
        <Button why={!rec.source && "Share a screen first."} onClick={() => rec.stop()}>
          Stop
        </Button>
      </div>
      <FilmBar />
      <p className="truncate text-sm text-soft">{rec.said?.text ?? "T takes, A the same area, P pauses, R records"}</p>
    </div>
  );
}

/** The keys of capture: alone where nothing is written, with Alt anywhere. */
export function useCaptureKeys(on: Document, alone = false) {
  const rec = useRecorder();
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      const writing = target.closest(`${fields}, [role=application], [contenteditable]`);
      if (e.ctrlKey || e.metaKey || (!e.altKey && ((writing && !alone) || !letterKeys.on()))) return;
      if (e.key === "Escape" && rec.countdown !== undefined) rec.cancel();
      else if (e.code === "KeyT") void rec.take();
      else if (e.code === "KeyA") void rec.again();
      else if (e.code === "KeyP") {
        if (filming.state === "off") rec.pause();
        else filming.pause();
      } else if (e.code === "KeyR") void rec.film(e.shiftKey);
      else if (e.code === "KeyM") filming.mute();
      else if (e.code === "KeyK" && rec.source) rec.keepNext();
      else return;
      e.preventDefault();
    };
    on.addEventListener("keydown", key);
    return () => on.removeEventListener("keydown", key);
  }, [on, rec, alone]);
}
