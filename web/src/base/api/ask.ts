import { queryOptions } from "@tanstack/react-query";
import type { FetchOptions, FetchResponse } from "openapi-fetch";
import { api, expect } from "./client";
import type { paths } from "./schema";

/** What can be asked of the server. */
export type Question = { [P in keyof paths]: paths[P]["get"] extends undefined ? never : P }[keyof paths];

type Get<Q extends Question> = paths[Q] extends { get: infer G extends Record<string | number, unknown> } ? G : never;
type Options<Q extends Question> = FetchOptions<Get<Q>>;
type Params<Q extends Question> = Options<Q> extends { params?: infer P } ? P : never;
type Told<Q extends Question> = NonNullable<FetchResponse<Get<Q>, unknown, "application/json">["data"]>;
type Rest<Q extends Question> =
  Options<Q> extends { params: object } ? [Params<Q>, state?: unknown] : [Params<Q>?, state?: unknown];

/**
 * A question to the server, for a query. Its answer is kept by what is asked, so that the same is asked once, and two
 * questions never stand under one name; where a state is given, it is asked anew for each. What makes an answer old
 * stands in freshness.ts.
 */
export function ask<Q extends Question>(question: Q, ...[params, state]: Rest<Q>) {
  const get = api.GET as (question: Q, options: object) => Promise<{ data?: Told<Q>; response: Response }>;
  return queryOptions({
    queryKey: [question, params, state] as [Question, unknown, unknown],
    queryFn: ({ signal }) => expect(get(question, { params, signal })),
  });
}

/** Which document a question is about; undefined where it is about none, or about all. */
export function documentOf(key: readonly unknown[]): string | undefined {
  const [, params] = key as [Question, { path?: { document?: string } } | undefined];
  return params?.path?.document;
}

/** Where a list begins that comes in parts, each asked for by the last of those before. */
export const beginning = <Last>(): Last | undefined => undefined;
