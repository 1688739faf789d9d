// What browsers have and TypeScript's library does not know: each is looked for before it is used.

interface Navigator {
  readonly keyboard?: { getLayoutMap(): Promise<Map<string, string>> };
}

interface Window {
  readonly documentPictureInPicture?: { requestWindow(size: { width: number; height: number }): Promise<Window> };
  readonly MediaStreamTrackProcessor?: new (init: { track: MediaStreamTrack }) => {
    readable: ReadableStream<VideoFrame>;
  };
  readonly MediaStreamTrackGenerator?: new (init: {
    kind: "video";
  }) => MediaStreamTrack & { writable: WritableStream<VideoFrame> };
}

interface MediaTrackConstraintSet {
  cursor?: "always" | "motion" | "never";
}

interface DisplayMediaStreamOptions {
  selfBrowserSurface?: "include" | "exclude";
  surfaceSwitching?: "include" | "exclude";
  monitorTypeSurfaces?: "include" | "exclude";
}

interface ImageCapture {
  grabFrame(): Promise<ImageBitmap>;
}

interface MediaRecorderOptions {
  videoKeyFrameIntervalDuration?: number;
}
