import { useSyncExternalStore } from "react";
import { recorder } from "./recorder";

export function useRecorder() {
  useSyncExternalStore(recorder.subscribe, recorder.snapshot);
  return recorder;
}
