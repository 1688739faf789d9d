import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type CommentPlace, type Content, expect, type Figure } from "../../base/api/client";
import { useEvents } from "../../base/api/events";

/** What is said of a document, live. */
export function useComments(document: string) {
  const client = useQueryClient();
  const key = ["comments", document];
  const refresh = () => void client.invalidateQueries({ queryKey: key });
  const list = useQuery({
    queryKey: key,
    queryFn: () => expect(api.GET("/api/documents/{document}/comments", { params: { path: { document } } })),
  });
  useEvents({ comments: (e) => e.document === document && refresh(), opened: refresh });
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
  const client = useQueryClient();
  const path = { document };
  const settled = { onSettled: () => client.invalidateQueries({ queryKey: ["comments", document] }) };
  return {
    say: useMutation({
      mutationFn: (body: Saying) => expect(api.POST("/api/documents/{document}/comments", { params: { path }, body })),
      ...settled,
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
      ...settled,
    }),
    takeBack: useMutation({
      mutationFn: (comment: string) =>
        expect(api.DELETE("/api/documents/{document}/comments/{comment}", { params: { path: { ...path, comment } } })),
      ...settled,
    }),
  };
}

/** Whose name is written with an @ before it. */
export const mentioned = (body: string, people: { id: string; name: string }[]) =>
  people.filter((p) => body.includes(`@${p.name}`)).map((p) => p.id);
