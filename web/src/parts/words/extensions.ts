import { type CommandProps, Mark, mergeAttributes, Node } from "@tiptap/core";
import Bold from "@tiptap/extension-bold";
import Code from "@tiptap/extension-code";
import Document from "@tiptap/extension-document";
import HardBreak from "@tiptap/extension-hard-break";
import Italic from "@tiptap/extension-italic";
import Link from "@tiptap/extension-link";
import { BulletList, ListItem, ListKeymap, OrderedList } from "@tiptap/extension-list";
import Paragraph from "@tiptap/extension-paragraph";
import Text from "@tiptap/extension-text";
import { Placeholder } from "@tiptap/extensions";
import type { Tags } from "../../base/api/client";
import type { Names, TargetKind } from "./refer";
import { tables } from "./table";
import { type Content } from "../../base/api/client";

/** Tells how references to markers look now; editors listen, since numbers change while words are written. */
export class MarkerTags {
  private listeners = new Set<() => void>();
  constructor(private tags: Tags) {}
  get = (mark: string) => this.tags[mark];
  set(tags: Tags) {
    this.tags = tags;
    this.listeners.forEach((l) => l());
  }
  listen(listener: () => void) {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
}

const KeyCap = Mark.create({
  name: "keycap",
  excludes: "code control",
  parseHTML: () => [{ tag: "kbd" }],
  renderHTML: ({ HTMLAttributes }) => ["kbd", HTMLAttributes, 0],
});

const Control = Mark.create({
  name: "control",
  excludes: "code keycap bold",
  parseHTML: () => [{ tag: "span.control" }],
  renderHTML: ({ HTMLAttributes }) => ["span", mergeAttributes(HTMLAttributes, { class: "control" }), 0],
});

const markerRef = (tags: MarkerTags) =>
  Node.create({
    name: "markerRef",
    group: "inline",
    inline: true,
    atom: true,
    addAttributes: () => ({ mark: { default: "", parseHTML: (e: HTMLElement) => e.dataset.mark ?? "" } }),
    parseHTML: () => [{ tag: "span[data-mark]" }],
    renderHTML: ({ node }) => ["span", { "data-mark": String(node.attrs.mark) }, "?"],
    addNodeView:
      () =>
      ({ node }) => {
        const dom = document.createElement("span");
        dom.className = "marker-ref";
        const mark = String(node.attrs.mark);
        dom.dataset.mark = mark;
        const draw = () => {
          const tag = tags.get(mark);
          dom.textContent = tag ? tag.label : "?";
          dom.style.background = tag?.ink ?? "";
          dom.style.color = tag?.on ?? "";
        };
        draw();
        const stop = tags.listen(draw);
        return { dom, destroy: () => void stop() };
      },
  });

const reference = (names: Names) =>
  Node.create({
    name: "reference",
    group: "inline",
    inline: true,
    atom: true,
    addAttributes: () => ({
      to: { default: "", parseHTML: (e: HTMLElement) => e.dataset.to ?? "" },
      kind: { default: "step", parseHTML: (e: HTMLElement) => e.dataset.kind ?? "step" },
    }),
    parseHTML: () => [{ tag: "span[data-to]" }],
    renderHTML: ({ node }) => ["span", { "data-to": String(node.attrs.to), "data-kind": String(node.attrs.kind) }, "?"],
    addNodeView:
      () =>
      ({ node }) => {
        const dom = document.createElement("span");
        dom.className = "reference";
        const draw = () => {
          dom.textContent = names.get(String(node.attrs.to));
        };
        draw();
        const stop = names.listen(draw);
        return { dom, destroy: () => void stop() };
      },
  });

export const insertReference =
  (kind: TargetKind, to: string) =>
  ({ commands }: CommandProps) =>
    commands.insertContent([{ type: "reference", attrs: { kind, to } }]);

export const insertMarker =
  (mark: string) =>
  ({ commands }: CommandProps) =>
    commands.insertContent([
      { type: "markerRef", attrs: { mark } },
      { type: "text", text: " " },
    ]);

export const extensions = (tags: MarkerTags, names: Names, safeLink: (href: string) => boolean) => [
  Document,
  Paragraph,
  Text,
  HardBreak,
  Bold,
  Italic,
  Code,
  KeyCap,
  Control,
  BulletList,
  OrderedList,
  ListItem,
  ListKeymap,
  Link.configure({
    openOnClick: false,
    defaultProtocol: "https",
    isAllowedUri: safeLink,
    HTMLAttributes: { target: null, rel: null, class: null },
  }),
  Placeholder.configure({ placeholder: "Say what to do here" }),
  markerRef(tags),
  reference(names),
  ...tables,
];

/** An editor's JSON, as far as it is looked at. */
interface Written {
  type?: string;
  text?: string;
  attrs?: { mark?: string; to?: string; kind?: string };
  marks?: { type: string; attrs?: { href?: string } }[];
  content?: Written[];
}

/** An editor's JSON as words: what the text model does not have is left out. */
export const toModel = (written: object): Content["words"] => modelled(written) as Content["words"];

function modelled({ type, text, attrs, marks, content }: Written): object {
  return {
    type,
    ...(text !== undefined && { text }),
    ...(type === "markerRef" && { attrs: { mark: attrs?.mark } }),
    ...(type === "reference" && { attrs: { to: attrs?.to, kind: attrs?.kind } }),
    ...(marks?.length && {
      marks: marks.map((m) =>
        m.type === "link" ? { type: "link", attrs: { href: m.attrs?.href } } : { type: m.type },
      ),
    }),
    ...(content?.length && { content: content.map(modelled) }),
  };
}
