import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { afterEach, expect, test, vi } from "vitest";
import { ask } from "./ask";
import { api } from "./client";
import { keepFresh, old } from "./freshness";

const at = "http://house.example";

/** A client that has asked for what two documents say, and for all shares and comments. */
function asked() {
  const client = new QueryClient();
  const keys = [
    ask("/api/documents/{document}", { path: { document: "a" }, query: { composed: true } }).queryKey, // as one follows it
    ask("/api/documents/{document}", { path: { document: "a" } }).queryKey,
    ask("/api/documents/{document}", { path: { document: "b" } }).queryKey,
    ask("/api/documents/{document}/comments", { path: { document: "a" } }).queryKey,
    ask("/api/search", { query: { text: "pears" } }).queryKey,
  ];
  keys.forEach((queryKey) => client.setQueryData<unknown>(queryKey, {}));
  const stale = () => keys.map((k) => client.getQueryState(k)?.isInvalidated);
  return { client, stale };
}

afterEach(() => vi.unstubAllGlobals());

test("what is about another document stays fresh", () => {
  const { client, stale } = asked();
  old(client, ["/api/documents/{document}", "/api/search"], "a");
  expect(stale()).toEqual([true, true, false, false, true]);
  old(client, ["/api/documents/{document}"]);
  expect(stale()).toEqual([true, true, true, false, true]);
});

test("an act makes old what its path says; what a reader follows stays as it is until they ask", async () => {
  let told: Record<string, (e: { data: string }) => void> = {};
  vi.stubGlobal("BroadcastChannel", undefined);
  vi.stubGlobal(
    "EventSource",
    class {
      addEventListener = (kind: string, to: (e: { data: string }) => void) => (told = { ...told, [kind]: to });
      close = () => undefined;
    },
  );
  const { client, stale } = asked();
  const end = keepFresh(client, false);
  told["document"]?.({ data: JSON.stringify({ document: "a", seq: 2 }) });
  expect(stale()).toEqual([false, true, false, false, true]);
  await api.POST("/api/documents/{document}/comments", {
    baseUrl: at,
    params: { path: { document: "a" } },
    body: { id: "c", body: "?", mentions: [] },
    fetch: () => Promise.resolve(new Response("{}", { status: 201, headers: { "Content-Type": "application/json" } })),
  });
  expect(stale()).toEqual([false, true, false, true, true]);
  end();
  const editor = asked();
  const close = keepFresh(editor.client, true);
  told["document"]?.({ data: JSON.stringify({ document: "a", seq: 2 }) });
  expect(editor.stale()).toEqual([true, true, false, false, true]);
  close();
});

test("the same question is asked once, and again for another state", () => {
  const of = (state?: number) => ask("/api/documents/{document}/looks", { path: { document: "a" } }, state).queryKey;
  const client = new QueryClient();
  const observe = (queryKey: readonly unknown[]) =>
    new QueryObserver(client, { queryKey, queryFn: () => 1 }).subscribe(() => undefined);
  [of(1), of(1), of(2)].forEach(observe);
  expect(client.getQueryCache().getAll()).toHaveLength(2);
});
