import { createContext, useContext } from "react";
import type { Mark, Rect, Style } from "../../base/api/client";
import { answered, core, type FigureArgs, type Point, type Pointer, type Size, type View } from "../../base/core/core";

/** The core's stage of one open picture. */
export type StageCore = ReturnType<typeof openStage>;

/** Opens a stage; whoever opens it closes it. */
export function openStage() {
  const id = core.newStage();
  const call = <T>(name: string, args: unknown = {}): T =>
    answered<T>(name, raconteStage(id, name, JSON.stringify(args)));
  return {
    close: () => void core.closeStage(id),
    /**
     * Puts a box around each of some things; a number at each; covers each; frames them together. Places of the shot.
     */
    boxAround: (things: Rect[]) => call<View>("boxAround", things),
    numberEach: (things: Rect[]) => call<View>("numberEach", things),
    conceal: (places: Rect[]) => call<View>("conceal", places),
    cropTo: (things: Rect[]) => call<View>("cropTo", things),
    /** Marks where the mouse pointer was, or takes that mark away. */
    showPointer: (at: Point) => call<View>("showPointer", at),
    /** Sets another shot in: inside, right or below. */
    setIn: (shot: string, size: Size, where: string) => call<View>("setIn", { shot, size, where }),
    open: (args: FigureArgs) => call<View>("open", args),
    /** The pixels of the shot, so many to one of it, and the elements that its capture knows. */
    ground: (pixels: ImageData, scale: number, known: { elements: Rect[]; words: Rect[] }) =>
      answered<View>("ground", raconteGround(id, pixels.data, pixels.width, scale, JSON.stringify(known))),
    redraw: () => call<View>("redraw"),
    choose: (tool: string, keep: boolean) => call<View>("choose", { tool, keep }),
    select: (id: string, more = false) => call<View>("select", { id, more }),
    selectAll: () => call<View>("selectAll"),
    cancel: () => call<View>("cancel"),
    done: () => call<View>("done"),
    down: (p: Pointer) => call<View>("down", p),
    moves: (way: Pointer[]) => call<View>("moves", way),
    up: (p: Pointer) => call<View>("up", p),
    cursor: (p: Pointer) => call<string>("cursor", p),
    nudge: (by: Point, reshape: boolean) => call<View>("nudge", { by, reshape }),
    place: () => call<View>("place"),
    /** Adds a finished mark, its points in places of the shot. */
    put: (mark: Partial<Mark>) => call<View>("put", mark),
    setCrop: (rect: Rect, ratio: number) => call<View>("setCrop", { rect, ratio }),
    applyCrop: () => call<View>("applyCrop"),
    wholeShot: () => call<View>("wholeShot"),
    /** Changes how the picture itself is shown: fields of the figure, and turn, flip, unfold. */
    look: (patch: object) => call<View>("look", patch),
    remove: () => call<View>("delete"),
    /** Changes the chosen marks: fields of their style, and what markers count. */
    /** Gives the chosen marks a style, all of it. */
    setStyle: (style: Style) => call<View>("setStyle", style),
    patch: (patch: object) => call<View>("patch", patch),
    text: (words: string) => call<View>("text", words),
    raise: (by: number) => call<View>("raise", by),
    align: (to: string) => call<View>("align", to),
    distribute: (down: boolean) => call<View>("distribute", down),
    sameSize: () => call<View>("sameSize"),
    group: (together: boolean) => call<View>("group", together),
    position: (rect: Rect) => call<View>("position", rect),
    duplicate: () => call<View>("duplicate"),
    paste: (marks: Mark[]) => call<View>("paste", marks),
    copied: () => call<Mark[] | null>("copied") ?? [],
    inkSaid: () => call<{ ink: string; contrast: number }>("inkSaid"),
    manners: () => call<object>("manners"),
    setManners: (manners: object) => call<null>("setManners", manners),
  };
}

const StageContext = createContext<StageCore | undefined>(undefined);

export const StageProvider = StageContext.Provider;

/** The stage of the picture that is open around this component. */
export function useStageCore(): StageCore {
  const stage = useContext(StageContext);
  if (!stage) throw new Error("no picture is open here");
  return stage;
}
