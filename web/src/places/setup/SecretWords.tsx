import { api } from "../../base/api/client";
import { HouseList, linesOf } from "./HouseList";

type Kept = { version: number; words: string[] };

const lined = linesOf((k: Kept) => ({ version: k.version, lines: k.words }));

/** The team's own words, which are suggested for concealment wherever they stand in a picture. */
export function SecretWords() {
  return (
    <HouseList
      name="secret-words"
      title="Words to conceal"
      label="One on each line"
      load={async () => lined(await api.GET("/api/secret-words"))}
      save={async ({ version, lines }) =>
        lined(await api.PUT("/api/secret-words", { body: { version, words: lines } }))
      }
    >
      Names of customers, projects or machines that must not be seen. Where one stands in a picture, it is suggested for
      concealment, as e-mail addresses, telephone, card and account numbers, tokens and password fields are. Reading
      pictures can miss words: look for yourself, too.
    </HouseList>
  );
}
