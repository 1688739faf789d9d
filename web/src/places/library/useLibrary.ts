import { useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { api, expect } from "../../base/api/client";
import type { Question } from "../../base/api/ask";
import { old } from "../../base/api/freshness";
import { useEvents } from "../../base/api/events";

export const filters = ["kind", "state", "folder", "owner", "due", "usedIn", "sort"] as const;
export type Filter = (typeof filters)[number];

const page = 40; // what the server answers with at a time
const quiet = 150; // milliseconds without a key before it is asked
const findable = [1500, 4000]; // milliseconds after which what has changed should be found

type Query = NonNullable<Parameters<typeof search>[0]>;

const search = (query: {
  text?: string;
  kind?: "procedure" | "manual" | "filed" | "report" | "request" | "answer";
  state?: "draft" | "ready" | "retired";
  folder?: string;
  owner?: string;
  due?: "overdue" | "soon";
  usedIn?: string;
  sort?: "title" | "number" | "review";
  pinned?: boolean;
  after?: number;
}) => expect(api.GET("/api/search", { params: { query } }));

/**
 * What the library shows: what is looked for and the filters stand in the address, so that links and Back keep them.
 */
export function useLibrary() {
  const [params, setParams] = useSearchParams();
  const [text, setText] = useState(params.get("text") ?? "");
  const asked = params.get("text") ?? "";
  const set = useCallback(
    (name: string, value: string) =>
      setParams(
        (was) => {
          const next = new URLSearchParams(was);
          if (value) next.set(name, value);
          else next.delete(name);
          return next;
        },
        { replace: true },
      ),
    [setParams],
  );
  useEffect(() => {
    if (text.trim() === asked) return;
    const timer = setTimeout(() => set("text", text.trim()), quiet);
    return () => clearTimeout(timer);
  }, [text, asked, set]);
  const value = (name: Filter) => params.get(name) ?? "";
  const chosen: Query = Object.fromEntries(filters.flatMap((name) => params.getAll(name).map((v) => [name, v])));
  const pinned = params.get("pinned") === "true";
  const client = useQueryClient();
  const list = useInfiniteQuery({
    queryKey: ["/api/search", chosen, asked, pinned] satisfies [Question, ...unknown[]],
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      search({
        ...chosen,
        text: asked || undefined,
        pinned: pinned || undefined,
        after: pageParam || undefined,
      }),
    getNextPageParam: (last, all) => (last.length < page ? undefined : all.length * page),
    placeholderData: (old) => old,
  });
  // What has changed is found by its words a moment later, so that a search is asked again.
  const refresh = useCallback(() => {
    const ask = () => old(client, ["/api/search"]);
    ask();
    if (asked) for (const after of findable) setTimeout(ask, after);
  }, [client, asked]);
  useEvents({ document: refresh, opened: refresh });
  const filtered = Object.keys(chosen).some((name) => name !== "sort") || pinned;
  return { text, setText, asked, value, set, pinned, filtered, list, refresh, hits: list.data?.pages.flat() ?? [] };
}

export type LibraryState = ReturnType<typeof useLibrary>;
