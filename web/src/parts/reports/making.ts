import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, type Content, expect } from "../../base/api/client";

export type Making = {
  title: string;
  kind: "procedure" | "report" | "answer";
  from: string;
  block?: string;
  blocks: Content[];
};

const whole = (c: Content): Content => {
  const { asks, ...rest } = c;
  return asks ? { ...rest } : c;
};

/** What of some blocks a document of a kind can have: questions stay with reports, headings with procedures. */
export const fitting = (kind: Making["kind"], blocks: Content[]) =>
  blocks.map(whole).filter((c) => kind === "procedure" || c.type === "step" || c.type === "passage");

/** Makes a document of another, or of some of its steps, and opens it. Each knows the other. */
export function useMaking() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: ({ from, block, blocks, ...m }: Making) =>
      expect(
        api.POST("/api/documents", {
          body: {
            ...m,
            title: m.title.slice(0, 200),
            blocks: m.kind === "report" ? blocks : fitting(m.kind, blocks),
            from: { document: from, ...(block && { block }) },
          },
        }),
      ),
    onSuccess: (made) => void navigate(`/d/${made.id}/write`),
  });
}
