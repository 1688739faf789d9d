import type { Message } from "./types";

// Runs in pages of a Raconte that the recorder is connected with: the Capture place starts, pauses and stops through
// it, and hears how far the run is.

type Asked = { toRecorder: "status" | "start" | "pause" | "go-on" | "stop" };

addEventListener("message", (e: MessageEvent<Asked | undefined>) => {
  const what = e.source === window ? e.data?.toRecorder : undefined;
  if (!what) return;
  const message: Message =
    what === "status" ? { ask: "status" } : what === "start" ? { do: "start", any: true } : { do: what };
  void chrome.runtime
    .sendMessage(message)
    .then(
      (told: { error?: string }) => told.error === undefined && postMessage({ fromRecorder: told }, location.origin),
    )
    .catch(() => undefined);
});
