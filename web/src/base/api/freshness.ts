import type { QueryClient } from "@tanstack/react-query";
import { documentOf, type Question } from "./ask";
import { api } from "./client";
import { listen, type Told } from "./events";
import type { paths } from "./schema";

/** What the server can be told to do, but by recorders. */
export type Act = Exclude<
  {
    [P in keyof paths]: paths[P] extends { post?: never; put?: never; patch?: never; delete?: never } ? never : P;
  }[keyof paths],
  `/api/feed/${string}`
>;

/** All that lists documents. */
const lists: Question[] = [
  "/api/search",
  "/api/recent",
  "/api/documents",
  "/api/documents/{document}/links",
  "/api/documents/{document}/related",
];
const document: Question[] = ["/api/documents/{document}", "/api/documents/{document}/history", "/api/trail", ...lists];
const reviews: Question[] = [
  "/api/reviews",
  "/api/documents/{document}/reviews",
  "/api/documents/{document}/approval",
  "/api/documents/{document}",
];
const confirmations: Question[] = ["/api/confirmations", "/api/documents/{document}/confirmations"];
const shares: Question[] = ["/api/shares", "/api/documents/{document}/shares"];
const comments: Question[] = ["/api/documents/{document}/comments"];
const sendings: Question[] = ["/api/documents/{document}/sendings"];
const asked: Question[] = ["/api/inbox", "/api/documents/{document}/asked"];
const attachments: Question[] = ["/api/documents/{document}/attachments", "/api/documents/{document}/parcel"];
const deliveries: Question[] = ["/api/deliveries", "/api/documents/{document}/deliveries"];
const standings: Question[] = ["/api/standings"];
const people: Question[] = ["/api/accounts", "/api/groups", "/api/people"];
const folders: Question[] = ["/api/folders", ...lists];
const shots: Question[] = ["/api/shots", "/api/shots/room", "/api/captures", "/api/captures/{capture}"];
const styles: Question[] = ["/api/housestyles"];
const templates: Question[] = ["/api/templates", "/api/formats"];
const receivers: Question[] = ["/api/receivers"];

/** What each act makes old: whoever adds one to the API says it here. */
const afterActs: Record<Act, Question[]> = {
  // Who is signed in is known to the page by other ways, or the page goes.
  "/api/session": [],
  "/api/password": ["/api/sessions", "/api/session"],
  "/api/first": [],
  "/api/forgotten": [],
  "/api/tickets/{ticket}": [],
  "/api/account": ["/api/session", ...people],
  "/api/one-time": ["/api/session"],
  "/api/sessions": ["/api/sessions"],
  "/api/sessions/{login}": ["/api/sessions"],
  "/api/accounts": people,
  "/api/accounts/{account}": people,
  "/api/accounts/{account}/invitation": people,
  "/api/accounts/{account}/documents": [...people, ...lists],
  "/api/groups": people,
  "/api/groups/{group}": [...people, ...folders],
  "/api/folders": folders,
  "/api/folders/{folder}": folders,
  "/api/house": ["/api/house"],
  "/api/notices": ["/api/notices"],
  "/api/devices": ["/api/devices"],
  "/api/devices/{device}": ["/api/devices"],
  "/api/doors": ["/api/doors"],
  "/api/doors/{door}": ["/api/doors"],
  "/api/secret-words": ["/api/shots/{shot}/secrets"],
  "/api/sayings": [],

  "/api/documents": lists,
  "/api/filed": lists,
  "/api/imports": lists,
  "/api/bundles": lists,
  "/api/documents/{document}": [...lists, "/api/deleted"],
  "/api/documents/{document}/restore": [...lists, "/api/deleted"],
  "/api/documents/{document}/duplicate": lists,
  "/api/documents/{document}/rewrite": lists,
  "/api/documents/{document}/steps": lists,
  "/api/documents/{document}/number": document,
  "/api/documents/{document}/place": document,
  "/api/documents/{document}/shelf": ["/api/recent", "/api/search"],
  "/api/documents/{document}/state": [...document, ...reviews, ...standings],
  "/api/documents/{document}/still-valid": document,
  "/api/documents/{document}/restored": document,
  "/api/documents/{document}/presence": [],
  // What is written is asked for by nobody but those who show it, and they hear of it by the event.
  "/api/documents/{document}/changes": [],
  "/api/documents/{document}/voices": [],
  "/api/documents/{document}/copied": [],
  "/api/documents/{document}/used": lists,
  "/api/documents/{document}/tried": [],
  "/api/documents/{document}/templated": [],
  "/api/documents/{document}/weighed": [],

  "/api/documents/{document}/shares": shares,
  "/api/documents/{document}/shares/{share}": shares,
  "/api/shared/{token}": [],
  "/api/shared/{token}/comments": ["/api/shared/{token}/comments"],
  "/api/documents/{document}/approval": reviews,
  "/api/documents/{document}/reviews": reviews,
  "/api/documents/{document}/reviews/{review}": reviews,
  "/api/documents/{document}/reviews/{review}/signature": reviews,
  "/api/documents/{document}/confirmations": confirmations,
  "/api/documents/{document}/confirmations/{account}": confirmations,
  "/api/documents/{document}/comments": comments,
  "/api/documents/{document}/comments/{comment}": comments,

  "/api/receivers": receivers,
  "/api/receivers/{receiver}": receivers,
  "/api/told/{receiver}": [],
  "/api/documents/{document}/sendings": sendings,
  "/api/documents/{document}/sendings/{sending}": sendings,
  "/api/documents/{document}/attachments": attachments,
  "/api/documents/{document}/attachments/{attachment}": attachments,
  "/api/documents/{document}/failures": lists,
  "/api/documents/{document}/asked": asked,
  "/api/door/{token}": [],
  "/api/door/{token}/pictures/{shot}": [],

  "/api/housestyles": styles,
  "/api/housestyles/usual": styles,
  "/api/housestyles/{style}": styles,
  "/api/housefiles": ["/api/housefiles"],
  "/api/templates": templates,
  "/api/templates/{template}": templates,
  "/api/templates/checked": [],

  "/api/documents/{document}/deliveries": deliveries,
  "/api/folders/{folder}/deliveries": deliveries,
  "/api/deliveries/{delivery}": deliveries,
  "/api/deliveries/{delivery}/again": deliveries,
  "/api/documents/{document}/standings": standings,
  "/api/standings/{standing}": standings,
  "/api/codes": [],

  "/api/shots/{shot}": shots,
  "/api/shots/{shot}/clip": [],
  "/api/shots/{shot}/clip/follow": [],
  "/api/shots/{shot}/scaled": shots,
  "/api/shots/{shot}/handed": ["/api/shots/{shot}/handed", "/api/documents/{document}/history"],
  "/api/shots/{shot}/targets": [],
  "/api/shots/discarded": shots,
  "/api/captures/{capture}": ["/api/captures"],
  "/api/captures/{capture}/order": [],
  "/api/captures/{capture}/even": [],
  "/api/captures/{capture}/compared": [],
  "/api/captures/{capture}/shots/{shot}": [],
  "/api/finished": [],
  "/api/clips": [],
  "/api/speech": [],
  "/api/speech/lengths": [],
  "/api/styles": ["/api/styles"],
  "/api/styles/{style}": ["/api/styles"],
};

/** What each event makes old. What a delivery is, is told by its own event: useDeliveries takes it from there. */
const afterEvents: { [K in keyof Told]: Question[] } = {
  document: ["/api/documents/{document}", "/api/documents/{document}/differences", ...lists],
  comments,
  sending: sendings,
  inbox: asked,
  reviews: [...reviews, ...confirmations],
  notices: ["/api/notices", "/api/reviews", "/api/confirmations"],
  shot: shots,
  delivery: [],
  presence: [],
  opened: [
    "/api/documents/{document}",
    "/api/documents/{document}/differences",
    ...lists,
    ...comments,
    ...sendings,
    ...asked,
    ...reviews,
    ...confirmations,
    ...shots,
    ...deliveries,
    "/api/notices",
  ],
};

/**
 * What a reader follows stays as it is until they ask for the newer revision: Follow sees to it, which asks for all of
 * it.
 */
const followed = ([question, params]: readonly unknown[]) =>
  question === ("/api/documents/{document}" satisfies Question) &&
  (params as { query?: { composed?: boolean } }).query?.composed === true;

/**
 * Asks again what is looked at and may be another now; where a document is named, only what is about it or about all.
 */
export function old(
  client: QueryClient,
  questions: Question[],
  document?: string,
  stays: (key: readonly unknown[]) => boolean = () => false,
) {
  const stale = new Set<unknown>(questions);
  void client.invalidateQueries({
    predicate: ({ queryKey }) => {
      if (!stale.has(queryKey[0]) || stays(queryKey)) return false;
      const about = documentOf(queryKey);
      return document === undefined || about === undefined || about === document;
    },
  });
}

/** Keeps what was asked as fresh as acts and events tell, until the answer is called. Drafts: the person sees them. */
export function keepFresh(client: QueryClient, drafts: boolean): () => void {
  const acts: Parameters<typeof api.use>[0] = {
    onResponse({ request, schemaPath, params }) {
      if (request.method === "GET" || !(schemaPath in afterActs)) return;
      const document = params.path?.document;
      old(client, afterActs[schemaPath as Act], typeof document === "string" ? document : undefined);
    },
  };
  api.use(acts);
  const by = (kind: keyof Told) => (event: { document?: string } | undefined) =>
    old(client, afterEvents[kind], event?.document, drafts ? undefined : followed);
  const end = listen({
    document: by("document"),
    comments: by("comments"),
    sending: by("sending"),
    inbox: by("inbox"),
    reviews: by("reviews"),
    notices: by("notices"),
    shot: () => old(client, afterEvents.shot),
    opened: by("opened"),
  });
  return () => {
    api.eject(acts);
    end();
  };
}
