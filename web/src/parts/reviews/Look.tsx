import type { Figure } from "../../base/api/client";
import { groundAddress, onGround } from "../comments/ground";
import type { Size } from "../../base/core/core";
import { Drawn, useDrawn, usePixels } from "../stage/Drawn";
import { useColours } from "../stage/useColours";

/** Another look of a picture, as it was suggested. */
export function Look(props: { document: string; seq: number; figure: Figure; size: Size; first: number }) {
  const { figure, size } = props;
  const { drawing, frame } = useDrawn(onGround(figure), size, props.first);
  const pixels = useColours(figure, usePixels(groundAddress(props.document, figure.id, props.seq), size));
  return (
    <div
      role="img"
      aria-label={figure.alt || "The picture as it is suggested"}
      className="mb-3 max-w-full border border-line"
      style={{
        aspectRatio: `${frame.w} / ${frame.h}`,
        width: `min(${frame.w}px, 100%, ${(75 * frame.w) / frame.h}dvh)`,
      }}
    >
      {drawing && <Drawn drawing={drawing} pixels={pixels} />}
    </div>
  );
}
