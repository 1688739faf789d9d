import { computeAccessibleName, getRole } from "dom-accessibility-api";
import type { Element as Told, Rect } from "./types";

/** The element that an event is really about: inside shadow roots, closed ones too. */
export function innermost(event: Event): Element | undefined {
  let found = event.composedPath()[0];
  if (found instanceof Text) found = found.parentElement ?? undefined;
  if (!(found instanceof Element)) return undefined;
  if (!(event instanceof MouseEvent)) return deepest(found, (root) => root.activeElement);
  return deepest(found, (root) => root.elementFromPoint(event.clientX, event.clientY));
}

/** Goes down through shadow roots; look tells which element of a root is meant. */
function deepest(element: Element, look: (root: ShadowRoot) => Element | null): Element {
  const root = shadowOf(element);
  const inner = root && look(root);
  return inner && inner !== element ? deepest(inner, look) : element;
}

/** The shadow root of an element, which only extensions see where it is closed. */
export function shadowOf(element: Element): ShadowRoot | null {
  if (!(element instanceof HTMLElement)) return element.shadowRoot;
  try {
    return globalThis.chrome?.dom?.openOrClosedShadowRoot(element) ?? element.shadowRoot;
  } catch {
    return element.shadowRoot;
  }
}

/** All elements that a selector finds, inside shadow roots too. */
// What a shadow root, closed ones too, can be attached to (DOM, 4.2.14).
const mayHost = /-|^(article|aside|blockquote|body|div|footer|h[1-6]|header|main|nav|p|section|span)$/;

export function* everywhere(selector: string, root: Document | ShadowRoot = document): Generator<Element> {
  for (const e of root.querySelectorAll("*")) {
    if (e.matches(selector)) yield e;
    const inner = mayHost.test(e.localName) || e.shadowRoot ? shadowOf(e) : null;
    if (inner) yield* everywhere(selector, inner);
  }
}

// What a person means by pointing at something inside it.
export const usable = [
  "a[href]", "button", "input", "select", "textarea", "summary", "label", "option", "canvas", "video", "audio",
  "[contenteditable=''],[contenteditable=true]", "[role=button]", "[role=link]", "[role=checkbox]", "[role=switch]",
  "[role=radio]", "[role=tab]", "[role=option]", "[role=menuitem]", "[role=menuitemcheckbox]", "[role=menuitemradio]",
  "[role=treeitem]", "[role=row]", "[role=gridcell]", "[role=combobox]", "[role=textbox]", "[role=searchbox]",
  "[role=slider]", "[role=spinbutton]", "[tabindex]:not([tabindex='-1'])",
].join(","); // prettier-ignore

/** The thing that a person would name: the button around an icon, the field that a label belongs to. */
export function meant(element: Element): Element {
  for (let e: Element | null = element; e; e = up(e)) {
    if (!e.matches(usable)) continue;
    const field = e instanceof HTMLLabelElement ? e.control : undefined;
    return field ?? e;
  }
  return element;
}

function up(e: Element): Element | null {
  if (e.parentElement) return e.parentElement;
  const root = e.getRootNode();
  return root instanceof ShadowRoot ? root.host : null;
}

const secretKinds = /(^|\s)(cc-\S+|one-time-code|current-password|new-password)(\s|$)/;
const onceSecret = new WeakSet<Element>();

/** Whether what is in a field must never be seen. What was a password field once stays one, even when it is shown. */
export function isSecret(e: Element): boolean {
  if (!(e instanceof HTMLInputElement)) return false;
  if (e.type === "password" || secretKinds.test(e.autocomplete)) onceSecret.add(e);
  return onceSecret.has(e);
}

const roles: Record<string, string> = {
  searchbox: "textbox",
  spinbutton: "textbox",
  menuitemcheckbox: "menuitem",
  menuitemradio: "menuitem",
  gridcell: "cell",
  listbox: "combobox",
  img: "image",
};

export function roleOf(e: Element): string {
  if (isSecret(e)) return "password";
  if (e instanceof HTMLInputElement) {
    if (["date", "time", "datetime-local", "month", "week"].includes(e.type)) return "date";
    if (e.type === "file") return "file";
    if (e.type === "color") return "button";
  }
  if (e instanceof HTMLElement && e.isContentEditable) return "textbox";
  if (e.localName === "canvas") return e.getAttribute("role") ?? "drawing";
  if (e.localName === "summary") return "button";
  const role = getRole(e) ?? "";
  return roles[role] ?? (role === "generic" ? "" : role);
}

const longest = 80;

/** The words by which a person knows it, as an accessibility layer has them. */
export function nameOf(e: Element): string {
  const tidy = (s: string | null | undefined) => (s ?? "").replace(/\s+/g, " ").trim();
  const named = tidy(computeAccessibleName(e));
  const placeholder = tidy(e.getAttribute("placeholder"));
  const own = isSecret(e) || e.localName === "canvas" ? "" : tidy((e as HTMLElement).innerText);
  return shortened(named || placeholder || own);
}

/** A name that is no longer than can be read in a sentence, cut between words. */
export function shortened(name: string): string {
  if (name.length <= longest) return name;
  const cut = name.slice(0, longest);
  return `${cut.slice(0, Math.max(cut.lastIndexOf(" "), longest / 2)).replace(/[\s,;:.]+$/, "")} …`;
}

export const rectOf = (e: Element): Rect => {
  const { x, y, width, height } = e.getBoundingClientRect();
  return { x, y, w: width, h: height };
};

/** Whether something is a link that leads to another page, as far as can be seen from outside. */
const isLead = (e: Element) =>
  e instanceof HTMLAnchorElement &&
  /^https?:$/.test(e.protocol) &&
  e.href.split("#")[0] !== location.href.split("#")[0] &&
  !e.hasAttribute("download") &&
  !e.hasAttribute("onclick") &&
  !e.hasAttribute("ping") &&
  !/delete|remove|cancel|logout|sign.?out/i.test(e.pathname);

const dialogs = "dialog[open], [role=dialog], [role=alertdialog], [aria-modal=true]";

/** What the dialog around something is called: by its name, or its first heading; "" outside of all. */
function dialogOf(e: Element): string {
  for (let at: Element | null = e; at; at = up(at)) {
    if (!at.matches(dialogs)) continue;
    const heading = at.querySelector<HTMLElement>("h1, h2, h3, [role=heading], legend")?.innerText ?? "";
    return shortened((computeAccessibleName(at) || heading).replace(/\s+/g, " ").trim());
  }
  return "";
}

export function told(e: Element): Told {
  const on =
    e instanceof HTMLInputElement && (e.type === "checkbox" || e.type === "radio")
      ? e.checked
      : e.getAttribute("aria-checked") === "true" || e.getAttribute("aria-pressed") === "true";
  const secret = isSecret(e);
  const window = dialogOf(e);
  const leads = isLead(e);
  return {
    name: nameOf(e),
    role: roleOf(e),
    rect: rectOf(e),
    ...(window && { window }),
    ...(leads && { leads }),
    ...(on && { on }),
    ...(secret && { secret }),
  };
}
