import { ask } from "../../base/api/ask";
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, type CommentPlace, type Content, expect, type Figure } from "../../base/api/client";

/** What is said of a document, live. */
export function useComments(document: string) {
  const list = useQuery(ask("/api/documents/{document}/comments", { path: { document } }));
  return list;
}

export type Saying = {
  id: string;
  thread?: string;
  place?: CommentPlace;
  body: string;
  mentions: string[];
  /** Other words that are suggested, or another look of the picture that it is about. */
  suggestion?: Content["words"];
  figure?: Figure;
};

/** Says something, changes or takes back what one has said, settles a thread. */
export function useSay(document: string) {
  const path = { document };
  return {
    say: useMutation({
      mutationFn: (body: Saying) => expect(api.POST("/api/documents/{document}/comments", { params: { path }, body })),
    }),
    change: useMutation({
      mutationFn: (c: {
        comment: string;
        body?: string;
        mentions?: string[];
        resolved?: boolean;
        outcome?: "taken" | "refused";
      }) => {
        const { comment, ...body } = c;
        return expect(
          api.PATCH("/api/documents/{document}/comments/{comment}", { params: { path: { ...path, comment } }, body }),
        );
      },
    }),
    takeBack: useMutation({
      mutationFn: (comment: string) =>
        expect(api.DELETE("/api/documents/{document}/comments/{comment}", { params: { path: { ...path, comment } } })),
    }),
  };
}

/** Whose name is written with an @ before it. */
export const mentioned = (body: string, people: { id: string; name: string }[]) =>
  people.filter((p) => body.includes(`@${p.name}`)).map((p) => p.id);
