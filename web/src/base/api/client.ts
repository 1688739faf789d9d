import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { signedOut } from "./signedout";

export type Account = components["schemas"]["Account"];
export type Summary = components["schemas"]["Summary"];
export type WholeDocument = components["schemas"]["Document"];
export type Block = components["schemas"]["Block"];
export type Other = components["schemas"]["Other"];
export type Hit = components["schemas"]["Hit"];
export type Folder = components["schemas"]["Folder"];
export type Group = components["schemas"]["Group"];
export type Person = components["schemas"]["Person"];
export type WebLink = components["schemas"]["WebLink"];
export type Notice = components["schemas"]["Notice"];
export type Facts = components["schemas"]["Facts"];
export type Content = components["schemas"]["Content"];
export type Figure = components["schemas"]["Figure"];
export type Tags = Record<string, components["schemas"]["Tag"]>;
export type Mark = components["schemas"]["Mark"];
export type Rect = components["schemas"]["Rect"];
export type HiddenPlace = components["schemas"]["HiddenPlace"];
export type Shot = components["schemas"]["Shot"];
export type Recording = components["schemas"]["Recording"];
export type Clip = components["schemas"]["Clip"];
export type Span = components["schemas"]["Span"];
export type Making = components["schemas"]["Making"];
export type About = components["schemas"]["About"];
export type Element = components["schemas"]["Element"];
export type Taken = components["schemas"]["Taken"];
export type Session = components["schemas"]["Capture"];
export type Style = components["schemas"]["Style"];
export type Target = components["schemas"]["Target"];
export type Change = components["schemas"]["Change"];
export type Changes = components["schemas"]["Changes"];
export type Finding = components["schemas"]["Finding"];
export type Pages = components["schemas"]["Pages"];
export type Scene = components["schemas"]["Scene"];
export type Delivery = components["schemas"]["Delivery"];
export type Layout = components["schemas"]["Layout"];
export type HouseStyle = components["schemas"]["HouseStyle"];
export type KeptStyle = components["schemas"]["KeptStyle"];
export type HouseFile = components["schemas"]["HouseFile"];
export type Thread = components["schemas"]["Thread"];
export type CommentPlace = components["schemas"]["CommentPlace"];
export type CommentPin = NonNullable<CommentPlace["pin"]>;
export type Difference = components["schemas"]["Difference"];
export type Differences = components["schemas"]["Differences"];
export type Template = components["schemas"]["Template"];
export type TemplateKind = components["schemas"]["TemplateKind"];
export type TemplateNote = components["schemas"]["TemplateNote"];
export type Order = components["schemas"]["Order"];
export type Format = components["schemas"]["Format"];
export type OfPDF = components["schemas"]["OfPDF"];
export type Role = components["schemas"]["Role"];
export type Member = components["schemas"]["Member"];
export type Invitation = components["schemas"]["Invitation"];
export type TrailAct = components["schemas"]["TrailAct"];
export type Review = components["schemas"]["Review"];
export type Approval = components["schemas"]["Approval"];
export type ApprovalRule = components["schemas"]["Rule"];
export type Confirmation = components["schemas"]["Confirmation"];
export type NoticeOf = components["schemas"]["NoticeOf"];
export type Validity = components["schemas"]["Validity"];
export type Present = components["schemas"]["Present"];
export type Share = components["schemas"]["Share"];
export type Receiver = components["schemas"]["Receiver"];
export type KeptReceiver = components["schemas"]["KeptReceiver"];
export type Incoming = components["schemas"]["Incoming"];
export type Sending = components["schemas"]["Sending"];
export type Quality = components["schemas"]["Quality"];

export const api = createClient<paths>({ baseUrl: "/" });

api.use({
  onResponse({ request, response }) {
    // The first question of a page, and a wrong password, say nothing of a session that was there.
    const asks =
      (request.method === "POST" && request.url.endsWith("/api/session")) ||
      request.url.includes("/api/shared/") ||
      request.url.endsWith("/presence"); // said unasked: nobody is stopped in the middle of a word by it
    if (response.status === 401 && !asks) signedOut();
  },
});

/** A refusal of the server, in words for people; status 0 means that it could not be reached. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    /** What is missing. */
    readonly needs?: "code" | "password",
  ) {
    super(message);
  }
}

export type Answer<T> = { data?: T; error?: unknown; response: Response };

const unreached = () => new Problem(0, "Raconte can't be reached. Check the connection and try again.");

/** Why an answer is a refusal. */
export function problemOf(response: Response, said: unknown, otherwise = "Raconte answered with an error. Try again.") {
  const { message = otherwise, needs } = (said ?? {}) as { message?: string; needs?: "code" | "password" };
  return new Problem(response.status, message, needs);
}

/** What someone else has made of a thing meanwhile, where an answer says so. */
export const conflictOf = <T>({ response, error }: Answer<T>): T | undefined =>
  response.status === 409 ? (error as T) : undefined;

/** What was fetched by hand: the answer's JSON, or a Problem. */
export async function toldBy<T>(response: Response, otherwise?: string): Promise<T> {
  const said: unknown = await response.json().catch(() => undefined);
  if (!response.ok) throw problemOf(response, said, otherwise);
  if (said === undefined) throw unreached(); // it was cut off: asked again, it may come whole
  return said as T;
}

/** The data of an answer, or a Problem. */
export async function expect<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw unreached();
  }
  if (!answer.response.ok) throw problemOf(answer.response, answer.error);
  return answer.data as T;
}

/** The kinds of picture files that can be brought in. */
export const pictureTypes = "image/png,image/jpeg,image/gif,image/webp,image/bmp,image/tiff";
export const movingTypes = "video/mp4,video/webm,video/quicktime";

/** What an account may do is decided by the server, in one place. */
export const mayEdit = (account: Account) => account.may.includes("edit");
export const mayRead = (account: Account) => account.may.includes("read");
export const mayReview = (account: Account) => account.may.includes("review");
export const mayAdminister = (account: Account) => account.may.includes("administer");

export const clipAddress = (document: string, figure: string, seq: number) =>
  `/api/documents/${encodeURIComponent(document)}/figures/${encodeURIComponent(figure)}/clip?at=${seq}`;

export const figureAddress = (document: string, figure: string, width: number, seq: number) =>
  `/api/documents/${encodeURIComponent(document)}/figures/${encodeURIComponent(figure)}?width=${width}&at=${seq}`;
