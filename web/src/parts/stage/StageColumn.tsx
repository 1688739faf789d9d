import type { ReactNode, RefObject } from "react";
import type { Figure, Taken } from "../../base/api/client";
import { FinishedClip } from "./FinishedClip";
import { core, type View } from "../../base/core/core";
import type { Row } from "../document/model";
import type { Picture } from "../document/picture";
import { useNotice } from "../../base/ui/notices";
import type { FigureChange } from "./change";
import { Colours } from "./Colours";
import { Reading } from "./Reading";
import type { Pixels } from "./paint";
import { useStageCore } from "./core";
import { CropPanel } from "./CropPanel";
import { Finished } from "./Finished";
import { Group, Groups } from "./Groups";
import { Known } from "./Known";
import { MarkWords } from "./MarkWords";
import { MarkList } from "./MarkList";
import { Pad } from "./Pad";
import { PicturePanel } from "./PicturePanel";
import { Secrets } from "./Secrets";
import { Several } from "./Several";
import { Styles } from "./Styles";
import type { Seen } from "./useStage";

type Props = {
  view: Seen | undefined;
  figure: Figure | undefined;
  first: number;
  rows: Row[];
  editor: RefObject<HTMLTextAreaElement | null>;
  picture: Picture | undefined;
  pictureOf: (shot: string) => Picture;
  taken: Taken | undefined;
  take: (view: View, label?: string) => void;
  /** What files of it are called. */
  name: string;
  /** Puts text into the words of its step. */
  onSay?: ((text: string) => void) | undefined;
  /** Its pixels, in the colours that it has. */
  pixels: Pixels;
  change: (label: string, part: Partial<Figure>) => void;
  onFigures?: (label: string, change: FigureChange) => void;
  onInset: () => void;
  reshoot: ReactNode;
  walking: boolean;
};

/** The pad and what belongs to the chosen mark, always in sight; below them, grouped, what concerns the picture. */
export function StageColumn(props: Props) {
  const { view, figure, rows, picture, take, onFigures } = props;
  const stage = useStageCore();
  const notice = useNotice();
  const size = picture?.size;
  const sameCrop = () => {
    let n = 0;
    onFigures?.("Give pictures the same crop", (f) => {
      const other = props.pictureOf(f.shot).size;
      const fits = f.id !== figure?.id && other && size && other.w === size.w && other.h === size.h && !f.quarter;
      if (!fits) return f;
      n++;
      return { ...f, crop: figure?.crop };
    });
    notice({ text: `${n === 1 ? "1 picture has" : `${n} pictures have`} this crop now.` });
  };
  const restyle = (kind: string, style: object) =>
    onFigures?.("Apply a style to all", (f) =>
      f.marks.some((m) => m.kind === kind) ? core.restyle(f, kind, style) : f,
    );
  return (
    <aside
      aria-label="Marks"
      className="sticky top-(--bar) flex h-[calc(100dvh-var(--bar))] flex-col gap-2.5 overflow-y-auto px-3 py-2.5"
    >
      {props.walking && props.reshoot}
      <Pad tool={view?.tool} onChoose={(tool, keep) => take(stage.choose(tool, keep))} />
      {view?.crop && <CropPanel view={view} onTake={take} />}
      {view && view.chosen.length > 1 && <Several count={view.chosen.length} onTake={take} />}
      {view && <MarkWords view={view} editor={props.editor} take={take} />}
      {view && <Styles view={view} marks={figure?.marks ?? []} onTake={take} onAll={onFigures && restyle} />}
      {view && <MarkList view={view} onTake={take} />}
      {figure && picture && size && <Known figure={figure} taken={props.taken} onTake={take} />}
      <Groups>
        {figure && view && (
          <Group name="Picture">
            <PicturePanel
              figure={figure}
              view={view}
              take={take}
              onInset={props.onInset}
              onSameCrop={onFigures && rows.length > 1 ? sameCrop : undefined}
            />
          </Group>
        )}
        {figure && view && size && picture?.progress === undefined && (
          <Group name="Text in it">
            <Reading key={figure.shot} figure={figure} size={size} view={view} take={take} onSay={props.onSay} />
          </Group>
        )}
        {figure && view && (
          <Group name="Colours">
            <Colours figure={figure} view={view} pixels={props.pixels} take={take} />
          </Group>
        )}
        {figure && size && (
          <Group name="Conceal">
            <Secrets figure={figure} rows={rows} onTake={take} onFigures={onFigures} />
          </Group>
        )}
        {props.reshoot && !props.walking && <Group name="New shot">{props.reshoot}</Group>}
        {figure?.clip && (
          <Group name="Finished clip">
            <FinishedClip
              figure={figure}
              first={props.first}
              name={props.name}
              onForm={(form) => figure.clip && props.change("Choose a clip’s form", { clip: { ...figure.clip, form } })}
            />
          </Group>
        )}
        {figure && (
          <Group name={figure.clip ? "Its picture" : "Finished picture"}>
            <Finished figure={figure} first={props.first} name={props.name} />
          </Group>
        )}
        {figure && (
          <Group name="Description">
            <label className="block">
              <span className="text-sm text-soft">For those who can’t see it</span>
              <textarea
                rows={3}
                maxLength={2000}
                value={figure.alt}
                onChange={(e) => props.change("Describe a picture", { alt: e.target.value })}
                className="w-full rounded border border-soft bg-paper px-2 py-1 text-sm"
              />
            </label>
          </Group>
        )}
      </Groups>
    </aside>
  );
}
