import type { EditorView } from "@tiptap/pm/view";
import { EditorContent, useEditor, useEditorState } from "@tiptap/react";
import {
  Bold,
  Code,
  CornerDownRight,
  Italic,
  Keyboard,
  Link,
  List,
  ListOrdered,
  MessageSquare,
  SquareMousePointer,
  Table2,
} from "lucide-react";
import { Toolbar } from "radix-ui";
import { useContext, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Content, Tags } from "../../base/api/client";
import { Comment } from "../comments/commenting";
import { chosenWords } from "../comments/marked";
import { core } from "../../base/core/core";
import { same, tidy } from "../../base/api/content";
import { Actions, AskDialog } from "../../base/ui/controls";
import { extensions, insertMarker, insertReference, MarkerTags, toModel } from "./extensions";
import { Names, Refer } from "./refer";
import { ReferDialog } from "./ReferDialog";
import { insertTable, tableActions } from "./table";
import { afterPress } from "../../base/ui/press";
import { Tip } from "../../base/ui/tip";

type Words = Content["words"];

type Props = {
  label: string;
  words: Words;
  markers: Tags;
  /** Where the press was that opened the editor: the caret goes there. */
  at?: { left: number; top: number };
  onChange: (words: Words) => void;
  onLeave: () => void;
  /** The words are divided at the caret: what stands before it, and what behind. */
  onDivide?: (before: Words, behind: Words) => void;
  /** To the words of the next block, or of the one before. */
  onNext?: (by: 1 | -1) => void;
};

/** What is selected now, as the browser has it: a key that follows at once comes before the editor has heard of it. */
function selected(view: EditorView): [number, number] {
  const { anchorNode, anchorOffset, focusNode, focusOffset } = document.getSelection() ?? {};
  const { from, to } = view.state.selection;
  if (!anchorNode || !focusNode || !view.dom.contains(anchorNode) || !view.dom.contains(focusNode)) return [from, to];
  const ends = [view.posAtDOM(anchorNode, anchorOffset ?? 0), view.posAtDOM(focusNode, focusOffset ?? 0)];
  return [Math.min(...ends), Math.max(...ends)];
}

/** A step's words, to be written. */
export function WordsEditor({ label, words, markers, at, onChange, onLeave, onDivide, onNext }: Props) {
  const [tags] = useState(() => new MarkerTags(markers));
  const refer = useContext(Refer);
  const comment = useContext(Comment);
  const [names] = useState(() => new Names(refer.names));
  const [referring, setReferring] = useState(false);
  const sent = useRef(words);
  const change = useRef(onChange);
  const divide = useRef(onDivide);
  const [linking, setLinking] = useState<string>();
  // Whoever presses something else leaves; its tools stay where they are until the press has reached what was meant.
  const left = useRef(onLeave);
  const leaving = useRef<() => void>(() => undefined);
  useEffect(() => () => leaving.current(), []);
  useEffect(() => {
    change.current = onChange;
    divide.current = onDivide;
    left.current = onLeave;
    tags.set(markers);
    names.set(refer.names);
  });
  const editor = useEditor({
    extensions: extensions(tags, names, (href) => core.safeLink(href)),
    content: words,
    injectCSS: false,
    editorProps: {
      attributes: { role: "textbox", "aria-multiline": "true", "aria-label": label, spellcheck: "true" },
      handleKeyDown: (view, e) => {
        if (e.key !== "Enter" || !(e.ctrlKey || e.metaKey) || !divide.current) return false;
        const { doc } = view.state;
        const [from, to] = selected(view);
        const part = (from: number, to?: number) => tidy(toModel(doc.cut(from, to).toJSON() as object));
        divide.current(part(0, from), part(to));
        return true;
      },
    },
    onUpdate: ({ editor }) => {
      sent.current = tidy(toModel(editor.getJSON()));
      change.current(sent.current);
    },
  });
  // The caret is there before the next key: what is typed at once is not lost.
  const place = useRef(at);
  useLayoutEffect(() => {
    if (!editor) return;
    const pressed = place.current && editor.view.posAtCoords(place.current);
    editor.commands.setTextSelection(pressed ? pressed.pos : editor.state.doc.content.size);
    editor.view.focus();
  }, [editor]);
  // Words that changed from outside: an undo, a colleague.
  useEffect(() => {
    if (!editor || same(words, sent.current)) return;
    sent.current = words;
    editor.commands.setContent(words, { emitUpdate: false });
  }, [editor, words]);
  const on = useEditorState({
    editor,
    selector: ({ editor }) =>
      Object.fromEntries(
        ["bold", "italic", "code", "keycap", "control", "link", "bulletList", "orderedList", "table"].map((n) => [
          n,
          editor?.isActive(n) ?? false,
        ]),
      ) as Record<string, boolean>,
  });
  if (!editor) return null;
  const chain = () => editor.chain().focus();
  const tools = [
    { name: "bold", title: "Bold", icon: Bold, run: () => chain().toggleMark("bold").run() },
    { name: "italic", title: "Italic", icon: Italic, run: () => chain().toggleMark("italic").run() },
    {
      name: "control",
      title: "Name of a control",
      icon: SquareMousePointer,
      run: () => chain().toggleMark("control").run(),
    },
    { name: "keycap", title: "Key", icon: Keyboard, run: () => chain().toggleMark("keycap").run() },
    { name: "code", title: "Code", icon: Code, run: () => chain().toggleMark("code").run() },
    { name: "bulletList", title: "List", icon: List, run: () => chain().toggleBulletList().run() },
    { name: "orderedList", title: "Numbered list", icon: ListOrdered, run: () => chain().toggleOrderedList().run() },
    {
      name: "link",
      title: "Link",
      icon: Link,
      run: () => setLinking(String(editor.getAttributes("link").href ?? "https://")),
    },
    ...(refer.targets
      ? [
          {
            name: "reference",
            title: "Refer to a step, a section, a picture or another document",
            icon: CornerDownRight,
            run: () => setReferring(true),
          },
        ]
      : []),
    ...(comment
      ? [
          {
            name: "comment",
            title: "Comment on the chosen words (Ctrl+Alt+W)",
            icon: MessageSquare,
            run: () => {
              const block = editor.view.dom.closest<HTMLElement>("[data-block]")?.dataset.block;
              comment(chosenWords() ?? (block ? { block } : {}));
            },
          },
        ]
      : []),
    ...(on?.table ? [] : [{ name: "table", title: "Table", icon: Table2, run: () => insertTable(editor) }]),
  ];
  return (
    <div
      onFocus={() => leaving.current()}
      onBlur={(e) => {
        const away = !e.currentTarget.contains(e.relatedTarget);
        const within = e.relatedTarget?.closest("[data-words-menu]");
        if (away && !within && linking === undefined && !referring) {
          leaving.current();
          leaving.current = afterPress(() => left.current());
        }
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") onLeave();
        if ((e.ctrlKey || e.metaKey) && !e.altKey && !e.shiftKey && (e.key === "ArrowDown" || e.key === "ArrowUp")) {
          e.preventDefault();
          onNext?.(e.key === "ArrowDown" ? 1 : -1);
        }
      }}
    >
      <EditorContent editor={editor} className="words rounded ring-2 ring-action ring-offset-4" />
      {/* One stop for the tabulator: arrows go from tool to tool. */}
      <Toolbar.Root aria-label="Style of the words" className="mt-2.5 flex flex-wrap items-center gap-0.5">
        {tools.map((t) => (
          <Tip key={t.name} text={t.title}>
            <Toolbar.Button
              aria-label={t.title}
              aria-pressed={on?.[t.name] ?? false}
              onMouseDown={(e) => e.preventDefault()}
              onClick={t.run}
              className={`rounded p-1.5 ${on?.[t.name] ? "bg-action text-paper" : "text-soft hover:bg-desk hover:text-ink"}`}
            >
              <t.icon size={16} aria-hidden />
            </Toolbar.Button>
          </Tip>
        ))}
        {on?.table && (
          <Actions
            label="The table"
            mark="words-menu"
            className="rounded p-1.5 text-sm text-soft hover:bg-desk hover:text-ink"
            choices={tableActions.map((a) => ({
              label: a.label,
              run: () => {
                a.run(editor.state, editor.view.dispatch);
                chain().run();
              },
            }))}
          >
            Table
          </Actions>
        )}
        {Object.entries(markers).map(([id, tag]) => (
          <Toolbar.Button
            key={id}
            title={`Refer to marker ${tag.label}`}
            aria-label={`Refer to marker ${tag.label}`}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => chain().command(insertMarker(id)).run()}
            className="ml-0.5 min-w-6 rounded px-1.5 text-sm font-bold"
            style={{ background: tag.ink, color: tag.on }}
          >
            {tag.label}
          </Toolbar.Button>
        ))}
      </Toolbar.Root>
      {referring && (
        <ReferDialog
          targets={refer.targets?.() ?? []}
          onDone={(t) => {
            setReferring(false);
            if (t) chain().command(insertReference(t.kind, t.to)).run();
            else chain().run();
          }}
        />
      )}
      {linking !== undefined && (
        <AskDialog
          title="Link"
          label="Address: https://… or mailto:…"
          initial={linking}
          confirm="Link"
          check={(text) => (core.safeLink(text) ? "" : "A link starts with https://, http:// or mailto:.")}
          onDone={(href) => {
            setLinking(undefined);
            if (!href) chain().run();
            else if (editor.state.selection.empty && !editor.isActive("link"))
              chain()
                .insertContent({ type: "text", text: href, marks: [{ type: "link", attrs: { href } }] })
                .run();
            else chain().extendMarkRange("link").setLink({ href }).run();
          }}
        />
      )}
    </div>
  );
}
