import { createContext, useContext } from "react";
import type { HouseStyle, Layout } from "../../base/api/client";
import type { Draft } from "../../parts/document/draft";
import type { Picture } from "../../parts/document/picture";
import type { Uploads } from "../../parts/document/uploads";
import type { StepActions } from "../../parts/document/useActions";

/**
 * What is at hand wherever a document is written. It stays the same from key to key: what changes is asked of the
 * draft.
 */
export type Desk = {
  id: string;
  draft: Draft;
  uploads: Uploads;
  inManual: boolean;
  actions: StepActions;
  pictureOf: (shot: string) => Picture;
  style: HouseStyle | undefined;
  layout: Layout;
  onWriting: (id: string | undefined) => void;
  /** The words of a block are not written any more. */
  onLeft: (id: string) => void;
  onChoose: (id: string, extend: boolean) => void;
};

export const AtDesk = createContext<Desk | undefined>(undefined);

export function useDesk(): Desk {
  const desk = useContext(AtDesk);
  if (!desk) throw new Error("nothing is written here");
  return desk;
}
