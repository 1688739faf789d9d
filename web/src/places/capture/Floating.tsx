import type { Binding } from "../../base/keys/keymap";
import { useKeys } from "../../base/keys/useKeys";
import { type ReactNode, useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { Button } from "../../base/ui/controls";
import { useShots } from "../../parts/shots/use";
import { FilmBar } from "./FilmBar";
import { filming } from "../../parts/capture/filming";
import { useRecorder } from "../../parts/capture/use";

/** A small window of its own that stays on top, so that Raconte can stay behind the program being shown. */
export function FloatingControl() {
  const [win, setWin] = useState<Window>();
  const pip = window.documentPictureInPicture;
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
  useCaptureKeys(on);
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
export function useCaptureKeys(on: Window | Document) {
  const rec = useRecorder();
  // On a picture that is marked, letters choose from the pad.
  const key = (letter: string, does: string, run: () => unknown): Binding[] => [
    { keys: letter, does, run, except: "[role=application], [contenteditable]" },
    { keys: `Alt+${letter}`, does: `${does}, also while you write`, run, writing: "fields" },
  ];
  useKeys(
    "Capture",
    [
      {
        keys: "Escape",
        does: "Stop counting down",
        run: () => (rec.countdown === undefined ? false : rec.cancel()),
        writing: "fields",
      },
      ...key("T", "Take a shot", () => void rec.take()),
      ...key("A", "Take the same area again", () => void rec.again()),
      ...key("P", "Pause, or go on", () => (filming.state === "off" ? rec.pause() : filming.pause())),
      ...key("R", "Begin a recording, or end it", () => void rec.film(false)),
      ...key("Shift+R", "Begin a recording with your voice", () => void rec.film(true)),
      ...key("M", "Mute your voice, or not", () => filming.mute()),
      ...key("K", "Only keep the next shot", () => (rec.source ? rec.keepNext() : false)),
    ],
    on,
  );
}
