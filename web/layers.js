// The layers of src: a file imports from its own folder, and from what is said of it here.
import path from "node:path";

const base = { api: [], core: ["api"], storage: ["api", "core"], keys: ["storage"], ui: ["api", "core", "keys"] };

const parts = {
  comments: ["differences"],
  differences: [],
  outbox: [],
  shots: ["outbox"],
  document: ["outbox"],
  words: ["comments", "document"],
  clips: [],
  reports: ["document"],
  capture: ["clips", "outbox", "reports", "shots"],
  stage: ["capture", "clips", "document", "shots", "words"],
  presence: [],
  house: [],
  library: [],
  share: [],
  deliveries: ["house"],
  receivers: ["deliveries"],
  answers: ["deliveries", "document", "stage", "words"],
  account: ["document", "outbox"],
  bar: ["account", "outbox"],
  reading: ["library", "reports", "words"],
  reviews: ["bar", "comments", "document", "share", "stage"],
};

const order = ["base", "parts", "places", "app"];

/** Why a file of a folder must not import from another; "" where it may. */
function why([layer, folder], [toLayer, toFolder]) {
  if (layer === toLayer && (folder === toFolder || layer === "app" || toFolder === undefined)) return "";
  if (order.indexOf(layer) > order.indexOf(toLayer)) return "";
  if (order.indexOf(layer) < order.indexOf(toLayer)) return `${layer} knows nothing of ${toLayer}`;
  if (layer === "places") return "places don’t know each other: what two of them need is a part";
  const may = (layer === "base" ? base : parts)[folder] ?? [];
  return may.includes(toFolder) ? "" : `${layer}/${folder} may import ${may.join(", ") || "no other"} (web/layers.js)`;
}

/** The layer and the folder of a file below src. */
const place = (root, file) => {
  const [layer, ...rest] = path.relative(root, file).split(path.sep);
  return [layer, rest.length > 1 ? rest[0] : undefined];
};

export const layers = {
  create(context) {
    const root = path.join(import.meta.dirname, "src");
    if (path.relative(root, context.filename).startsWith("..")) return {};
    const check = ({ source }) => {
      if (typeof source?.value !== "string" || !source.value.startsWith(".")) return;
      const to = path.resolve(path.dirname(context.filename), source.value);
      const message = why(place(root, context.filename), place(root, to));
      if (message) context.report({ node: source, message });
    };
    return {
      ImportDeclaration: check,
      ImportExpression: check,
      ExportNamedDeclaration: check,
      ExportAllDeclaration: check,
      TSImportType: check,
    };
  },
};
