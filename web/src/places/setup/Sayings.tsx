import { api } from "../../base/api/client";
import type { components } from "../../base/api/schema";
import { HouseList, linesOf } from "./HouseList";

type Kept = components["schemas"]["Sayings"];

const lined = linesOf((k: Kept) => ({ version: k.version, lines: k.words.map((w) => `${w.word} = ${w.said}`) }));

/** What lines say, each a word and how it is said; empty ones are left out. */
function read(lines: string[]) {
  return lines
    .filter((l) => l.trim() !== "")
    .map((l) => {
      const at = l.indexOf("=");
      if (at < 1) throw new Error(`“${l.trim()}” has no =: write the word, = and how it is said.`);
      return { word: l.slice(0, at).trim(), said: l.slice(at + 1).trim() };
    });
}

/** How a synthetic voice says the house's words. */
export function Sayings() {
  return (
    <HouseList
      name="sayings"
      title="How words are said"
      label="A word, = and how it is said, one on each line"
      load={async () => lined(await api.GET("/api/sayings"))}
      save={async ({ version, lines }) =>
        lined(await api.PUT("/api/sayings", { body: { version, words: read(lines) } }))
      }
    >
      Names and acronyms that a synthetic voice says wrongly in films, such as “Lotroom = lot room” or “QC = quality
      control”. Words are taken whole, and as they are written.
    </HouseList>
  );
}
