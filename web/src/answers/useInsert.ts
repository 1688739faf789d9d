import { useMutation } from "@tanstack/react-query";
import { api, expect } from "../api/client";
import { newID } from "../api/id";
import { core } from "../core/core";
import type { Draft } from "../manuscript/draft";
import { useNotice } from "../ui/notices";

/** Writes a stock answer at the end of what is being written, addressed to somebody. Other places stay to be filled in. */
export function useInsert(draft: Draft) {
  const notice = useNotice();
  return useMutation({
    mutationFn: async ({ answer, name }: { answer: string; name: string }) => {
      const path = { document: answer };
      const whole = await expect(api.GET("/api/documents/{document}", { params: { path } }));
      for (const shot of whole.shots) draft.shotArrived(shot);
      draft.insert(
        "Use a stock answer",
        draft.blocks().length,
        whole.blocks.map(({ content: c }) => ({
          ...c,
          words: core.filled(c.words, { name }),
          figures: c.figures.map((f) => ({ ...f, id: newID() })),
        })),
      );
      await expect(api.POST("/api/documents/{document}/used", { params: { path } }));
      return core.places(whole.blocks.map((b) => b.content.words)).filter((p) => p !== "name");
    },
    onSuccess: (left) =>
      notice({
        text:
          left.length > 0
            ? `The answer stands at the end. Fill in: ${left.join(", ")}.`
            : "The answer stands at the end.",
      }),
    onError: (e) => notice({ text: e.message }),
  });
}
