import type { DraggableSyntheticListeners } from "@dnd-kit/core";

/** What has something dragged by a pointer alone: its keys mean something else. */
export const byPointer = (listeners: DraggableSyntheticListeners) =>
  Object.fromEntries(Object.entries(listeners ?? {}).filter(([name]) => name !== "onKeyDown"));
