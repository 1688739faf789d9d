import { html } from "@codemirror/lang-html";
import { lintGutter, setDiagnostics } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { basicSetup } from "codemirror";
import { useEffect, useRef } from "react";
import type { TemplateNote } from "../../base/api/client";

const look = EditorView.theme({
  "&": { height: "100%", fontSize: "13px", backgroundColor: "#fff" },
  "&.cm-focused": { outline: "2px solid #0b5f66", outlineOffset: "-2px" },
  ".cm-scroller": { fontFamily: "'Atkinson Hyperlegible Mono', monospace", lineHeight: "1.45" },
  ".cm-gutters": { backgroundColor: "#f3f5f6", color: "#4c5d63", border: "0" },
});

/**
 * The words of a template, in an editor. It stands in a shadow root of its own, whose styles are adopted: pages of ours
 * take no style elements.
 */
export function Source(props: {
  initial: string;
  notes: TemplateNote[];
  /** A line to go to; another object goes there again. */
  goTo?: { line: number } | undefined;
  onChange: (source: string) => void;
}) {
  const { initial, notes, goTo } = props;
  const holder = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(null);
  const changed = useRef(props.onChange);
  useEffect(() => {
    changed.current = props.onChange;
  });
  useEffect(() => {
    const at = holder.current;
    if (!at) return;
    const root = at.shadowRoot ?? at.attachShadow({ mode: "open" });
    const made = new EditorView({
      root,
      parent: root,
      state: EditorState.create({
        doc: initial,
        extensions: [
          basicSetup,
          html(),
          lintGutter(),
          look,
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": "The template", tabindex: "0" }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) changed.current(u.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [initial]);
  useEffect(() => {
    const v = view.current;
    if (!v) return;
    const { doc } = v.state;
    v.dispatch(
      setDiagnostics(
        v.state,
        notes.map((n) => {
          const line = doc.line(Math.min(Math.max(n.line ?? 1, 1), doc.lines));
          return { from: line.from, to: line.to, severity: n.fatal ? "error" : "warning", message: n.text };
        }),
      ),
    );
  }, [notes]);
  useEffect(() => {
    const v = view.current;
    if (!v || !goTo) return;
    const line = v.state.doc.line(Math.min(Math.max(goTo.line, 1), v.state.doc.lines));
    v.dispatch({ selection: { anchor: line.from }, effects: EditorView.scrollIntoView(line.from, { y: "center" }) });
    v.focus();
  }, [goTo]);
  return <div ref={holder} className="h-full min-h-0" />;
}
