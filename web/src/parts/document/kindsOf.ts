import type { Finding } from "../../base/api/client";

/** How findings of one rule are told together, by rule. */
const together: Record<string, string> = {
  secrets: "pictures that may show a secret",
  "tells-concealed": "places that tell what is concealed",
  "unsure-cover": "covers to look at in a new shot",
  "no-alt": "pictures without a description",
  "no-words": "steps without words",
  "no-heading": "sections without a heading",
  "empty-passage": "passages without words",
  "empty-section": "sections with nothing in them",
  "no-hazard": "notices that say too little",
  "lost-marker": "references to markers that are gone",
  "lost-target": "marks that were not found",
  "unsure-target": "marks to confirm",
  "lost-reference": "references to what is gone",
  "lost-link": "links to what is gone",
  "retired-link": "links to what is retired",
  "cut-off": "marks that the crop cuts off",
  "small-print": "pictures whose text prints too small",
  "frames-jump": "pictures whose frame jumps",
  "over-cell": "steps with too many words for their place",
  "not-in-picture": "names that are not in their picture",
  "not-named": "controls that are boxed and not named",
  spelling: "names that are written otherwise elsewhere",
};

export type Kind = { rule: string; title: string; of: Finding[]; must: boolean };

/** Findings by their kind: secrets first, then what must be fixed, then what is worth a look. */
export function kindsOf(findings: Finding[]): Kind[] {
  const kinds = new Map<string, Kind>();
  for (const f of findings) {
    const kind = kinds.get(f.rule) ?? { rule: f.rule, title: "", of: [], must: f.severity === "must-fix" };
    kind.of.push(f);
    kind.must ||= f.severity === "must-fix";
    kinds.set(f.rule, kind);
  }
  const rank = (k: Kind) => (["secrets", "tells-concealed", "unsure-cover"].includes(k.rule) ? 0 : k.must ? 1 : 2);
  return [...kinds.values()]
    .map((k) => {
      const [first] = k.of;
      const words = together[k.rule];
      return { ...k, title: k.of.length === 1 || !words ? (first?.title ?? "") : `${k.of.length} ${words}` };
    })
    .sort((a, b) => rank(a) - rank(b));
}
