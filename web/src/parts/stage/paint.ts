import type { SceneItem, Size, Tone } from "../../base/core/core";
import { sure } from "../../base/typed";

// Draws the core's primitives as SVG. What is there already is changed rather than made anew, so that a drag
// touches few elements and pictures do not flicker.

/** Where a picture's pixels are, and how many there are. */
export type Pixels = (ref: string) => { href: string; size?: Size };

const space = "http://www.w3.org/2000/svg";
let ids = 0;

const make = (name: string) => document.createElementNS(space, name);

function set(element: Element, attributes: Record<string, string | number>) {
  for (const [name, value] of Object.entries(attributes))
    if (element.getAttribute(name) !== String(value)) element.setAttribute(name, String(value));
}

/** A child of a group; all of them are SVG. */
const childOf = (group: SVGElement, i: number) => group.children[i] as SVGElement | undefined;

/** Makes a group's children what the items say. */
export function paint(group: SVGElement, items: SceneItem[], pixels: Pixels) {
  items.forEach((item, i) => {
    const kind = item.path ? "path" : item.clip ? "clip" : item.picture?.matrix ? "turned" : "picture";
    let element = childOf(group, i);
    if (element?.getAttribute("data-kind") !== kind) {
      const fresh = create(kind);
      if (element) element.replaceWith(fresh);
      else group.appendChild(fresh);
      element = fresh;
    }
    if (item.path) {
      set(element, { d: item.path.d, fill: item.path.fill });
      element.style.mixBlendMode = item.path.blend ?? "";
    } else if (item.clip) {
      set(sure(element.querySelector(":scope > clipPath > path")), { d: item.clip.d });
      paint(sure(childOf(element, element.childElementCount - 1)), item.clip.items, pixels);
    } else if (item.picture) {
      place(element, item.picture, pixels);
    }
  });
  while (group.children.length > items.length) group.lastElementChild?.remove();
}

function create(kind: string): SVGElement {
  const element = make({ path: "path", clip: "g", turned: "svg", picture: "svg" }[kind] ?? "g");
  element.setAttribute("data-kind", kind);
  if (kind === "clip") {
    const id = `clip${ids++}`;
    const clip = element.appendChild(make("clipPath"));
    clip.setAttribute("id", id);
    clip.appendChild(make("path"));
    element.appendChild(make("g")).setAttribute("clip-path", `url(#${id})`);
  } else if (kind !== "path") {
    // A picture inside an inner svg, which cuts it to its part.
    set(element, { preserveAspectRatio: "none" });
    set(element.appendChild(make("image")), { preserveAspectRatio: "none" });
  }
  return element;
}

function place(element: Element, p: NonNullable<SceneItem["picture"]>, pixels: Pixels) {
  const { href, size } = pixels(p.ref);
  const { x, y, w, h } = p.target;
  const whole = size ?? { w: p.source.w || w, h: p.source.h || h };
  const part = p.matrix ? p.target : p.source.w > 0 ? p.source : { x: 0, y: 0, ...whole };
  set(element, { x, y, width: w, height: h, viewBox: `${part.x} ${part.y} ${part.w} ${part.h}` });
  const image = sure(element.querySelector(":scope > image"));
  set(image, { href, width: whole.w, height: whole.h });
  if (p.matrix) {
    const { a, b, c, d, e, f } = p.matrix;
    set(image, { transform: `matrix(${a} ${b} ${c} ${d} ${e} ${f})` });
  }
  tone(element, image, p.tone);
}

const luma = "0.2126 0.7152 0.0722 0 0";

/** The filters of a tone: what core/scene computes, in the primitives of SVG. */
function tone(element: Element, image: Element, t: Tone | undefined) {
  const key = JSON.stringify(t ?? {});
  if (element.getAttribute("data-tone") === key) return;
  element.setAttribute("data-tone", key);
  element.querySelector(":scope > filter")?.remove();
  image.removeAttribute("filter");
  if (!t?.look && !t?.light) return;
  const filter = make("filter");
  const id = `tone${ids++}`;
  set(filter, { id, x: 0, y: 0, width: 1, height: 1, "color-interpolation-filters": "sRGB" });
  const transfer = (attributes: Record<string, string | number>) => {
    const all = filter.appendChild(make("feComponentTransfer"));
    for (const channel of ["feFuncR", "feFuncG", "feFuncB"]) set(all.appendChild(make(channel)), attributes);
  };
  if (t.look === "grey" || t.look === "mono")
    set(filter.appendChild(make("feColorMatrix")), {
      type: "matrix",
      values: `${luma} ${luma} ${luma} 0 0 0 1 0`,
    });
  if (t.look === "mono") transfer({ type: "discrete", tableValues: "0 1" });
  if (t.look === "inverted") transfer({ type: "linear", slope: -1, intercept: 1 });
  if (t.light) {
    const k = Math.min(1, Math.abs(t.light) / 100);
    transfer({ type: "linear", slope: 1 - k, intercept: t.light > 0 ? k : 0 });
  }
  element.insertBefore(filter, image);
  image.setAttribute("filter", `url(#${id})`);
}
