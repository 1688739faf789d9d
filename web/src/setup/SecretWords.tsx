import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect } from "../api/client";
import { Button } from "../ui/controls";
import { useNotice } from "../ui/notices";

type Kept = { version: number; words: string[] };

/** The team's own words, which are suggested for concealment wherever they stand in a picture. */
export function SecretWords() {
  const client = useQueryClient();
  const notice = useNotice();
  const query = useQuery({ queryKey: ["secret-words"], queryFn: () => expect(api.GET("/api/secret-words")) });
  const [text, setText] = useState<string>();
  const [theirs, setTheirs] = useState<string[]>();
  const shown = text ?? (query.data?.words ?? []).join("\n");
  const save = async () => {
    try {
      const version = query.data?.version ?? 0;
      const { data, error, response } = await api.PUT("/api/secret-words", {
        body: { version, words: shown.split("\n") },
      });
      if (response.status === 409) {
        client.setQueryData(["secret-words"], error);
        notice({
          text: "Someone else changed the list meanwhile. What you wrote is still here: compare, then save it.",
        });
        setTheirs((error as Kept).words);
        return;
      }
      const kept = await expect(Promise.resolve({ data, error, response }));
      client.setQueryData(["secret-words"], kept);
      void client.invalidateQueries({ queryKey: ["secrets"] });
      setText(undefined);
      setTheirs(undefined);
      notice({
        text: kept.words.length === 1 ? "1 word is on the list." : `${kept.words.length} words are on the list.`,
      });
    } catch (e) {
      notice({ text: (e as Error).message });
    }
  };
  return (
    <section aria-labelledby="secret-words" className="mt-6 rounded border border-line bg-paper p-5">
      <h2 id="secret-words" className="text-lg font-bold">
        Words to conceal
      </h2>
      <p className="mt-1 mb-3 max-w-prose text-soft">
        Names of customers, projects or machines that must not be seen. Where one stands in a picture, it is suggested
        for concealment, as e-mail addresses, telephone, card and account numbers, tokens and password fields are.
        Reading pictures can miss words: look for yourself, too.
      </p>
      <label className="block">
        <span className="mb-1 block text-sm text-soft">One on each line</span>
        <textarea
          rows={5}
          value={shown}
          disabled={!query.data}
          onChange={(e) => setText(e.target.value)}
          className="w-full rounded border border-soft bg-paper px-3 py-2"
        />
      </label>
      {query.error && (
        <p role="alert" className="mt-2 text-mustfix">
          The list can’t be read now, so it can’t be changed: {query.error.message}
        </p>
      )}
      {theirs && (
        <p role="alert" className="mt-2 border-l-[3px] border-mustfix pl-3">
          The list of someone else, which is saved now: {theirs.length > 0 ? theirs.join(", ") : "no words"}.
        </p>
      )}
      <div className="mt-2 flex gap-2">
        <Button look="main" disabled={text === undefined || !query.data} onClick={() => void save()}>
          Save the list
        </Button>
        {text !== undefined && (
          <Button
            onClick={() => {
              setText(undefined);
              setTheirs(undefined);
            }}
          >
            Back to the saved list
          </Button>
        )}
      </div>
    </section>
  );
}
