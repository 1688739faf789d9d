import { type Editor, Extension, Node } from "@tiptap/core";
import {
  addColumnAfter,
  addRowAfter,
  deleteColumn,
  deleteRow,
  deleteTable,
  goToNextCell,
  tableEditing,
} from "@tiptap/pm/tables";

// Small tables: rows of cells, which hold what a text holds. Cells that span several are not in the text model.

const spans = { colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null } };

const Table = Node.create({
  name: "table",
  group: "block",
  content: "tableRow+",
  isolating: true,
  parseHTML: () => [{ tag: "table" }],
  renderHTML: () => ["table", ["tbody", 0]],
  extendNodeSchema: (extension) => (extension.name === "table" ? { tableRole: "table" } : {}),
});

const Row = Node.create({
  name: "tableRow",
  content: "(tableCell | tableHeader)+",
  parseHTML: () => [{ tag: "tr" }],
  renderHTML: () => ["tr", 0],
  extendNodeSchema: (extension) => (extension.name === "tableRow" ? { tableRole: "row" } : {}),
});

const cell = (name: string, tag: string, tableRole: string) =>
  Node.create({
    name,
    content: "(paragraph | bulletList | orderedList)+",
    isolating: true,
    addAttributes: () => spans,
    parseHTML: () => [{ tag }],
    renderHTML: () => [tag, 0],
    extendNodeSchema: (extension) => (extension.name === name ? { tableRole } : {}),
  });

const Editing = Extension.create({
  name: "tables",
  addProseMirrorPlugins: () => [tableEditing()],
  addKeyboardShortcuts() {
    const go = (by: 1 | -1) => goToNextCell(by)(this.editor.state, this.editor.view.dispatch);
    return {
      // Behind the last cell begins another row.
      Tab: () => go(1) || (addRowAfter(this.editor.state, this.editor.view.dispatch) && go(1)),
      "Shift-Tab": () => go(-1),
    };
  },
});

export const tables = [Table, Row, cell("tableCell", "td", "cell"), cell("tableHeader", "th", "header_cell"), Editing];

/** A table of two columns and three rows, the first of them headings. */
const newTable = {
  type: "table",
  content: [0, 1, 2].map((row) => ({
    type: "tableRow",
    content: [0, 1].map(() => ({ type: row === 0 ? "tableHeader" : "tableCell", content: [{ type: "paragraph" }] })),
  })),
};

/** Puts a new table where the caret is, and the caret into its first cell. */
export function insertTable(editor: Editor) {
  const { from } = editor.state.selection;
  editor.chain().focus().insertContent(newTable).run();
  let first: number | undefined;
  editor.state.doc.descendants((node, pos) => {
    if (first === undefined && node.type.name === "table" && pos + node.nodeSize > from) first = pos;
    return first === undefined;
  });
  if (first !== undefined)
    editor
      .chain()
      .setTextSelection(first + 4)
      .run();
}

export const tableActions = [
  { label: "Add a row below", run: addRowAfter },
  { label: "Add a column at the right", run: addColumnAfter },
  { label: "Delete the row", run: deleteRow },
  { label: "Delete the column", run: deleteColumn },
  { label: "Delete the table", run: deleteTable },
];
