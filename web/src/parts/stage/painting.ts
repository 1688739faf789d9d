import type { SceneItem, View } from "../../base/core/core";
import { paint, type Pixels } from "./paint";

/**
 * The drawing of one open picture: an element for each piece. It takes in every view as it comes, so that views can
 * follow each other faster than they are shown, and a drag touches one element.
 */
export class Painting {
  readonly layer = document.createElementNS("http://www.w3.org/2000/svg", "g");
  private readonly pieces = new Map<string, { element: SVGElement; items: SceneItem[] }>();

  constructor(private pixels: Pixels) {}

  take(view: View) {
    for (const { mark, items } of view.shapes) {
      const piece = this.pieces.get(mark) ?? {
        element: document.createElementNS("http://www.w3.org/2000/svg", "g"),
        items,
      };
      piece.items = items;
      this.pieces.set(mark, piece);
      paint(piece.element, items, this.pixels);
    }
    if (!view.listed) return;
    const live = new Set(view.order);
    for (const [mark, piece] of this.pieces) {
      if (live.has(mark)) continue;
      piece.element.remove();
      this.pieces.delete(mark);
    }
    view.order.forEach((mark, i) => {
      const element = this.pieces.get(mark)?.element;
      if (element && this.layer.children[i] !== element)
        this.layer.insertBefore(element, this.layer.children[i] ?? null);
    });
  }

  /** The pictures have come to be elsewhere, as when one has gone up. */
  look(pixels: Pixels) {
    if (this.pixels === pixels) return;
    this.pixels = pixels;
    for (const { element, items } of this.pieces.values()) paint(element, items, pixels);
  }
}
