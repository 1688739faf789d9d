import { useState } from "react";
import type { HouseStyle } from "../../base/api/client";

/** Words that are printed around what was written, worded by the house instead of as the language has them. */
const keys: Record<string, string> = {
  step: "Step",
  steps: "Steps",
  contents: "Contents",
  picture: "Picture",
  critical: "Critical step: …",
  do: "Do",
  film: "Film",
  index: "Index",
  procedure: "Procedure",
  manual: "Manual",
  pages: "Page {page} of {pages}",
  "draft stamp": "DRAFT: not ready for use",
  danger: "DANGER",
  warning: "WARNING",
  caution: "CAUTION",
  notice: "NOTICE",
};

export function PrintedWords(props: { style: HouseStyle; set: (style: HouseStyle, of?: string) => void }) {
  const { style, set } = props;
  const [open, setOpen] = useState(Object.keys(style.words ?? {}).length > 0);
  if (!open)
    return (
      <button type="button" className="text-action hover:underline" onClick={() => setOpen(true)}>
        Word some otherwise
      </button>
    );
  return (
    <>
      {Object.entries(keys).map(([key, usual]) => (
        <label key={key} className="grid grid-cols-[9rem_minmax(0,1fr)] items-center gap-2 text-sm">
          <span className="text-soft">{usual}</span>
          <input
            className="rounded border border-soft bg-paper px-2 py-1"
            maxLength={60}
            value={style.words?.[key] ?? ""}
            onChange={(e) => {
              const words = Object.fromEntries(
                Object.entries({ ...style.words, [key]: e.target.value }).filter(([, said]) => said),
              );
              set({ ...style, words: Object.keys(words).length ? words : undefined }, `word ${key}`);
            }}
          />
        </label>
      ))}
    </>
  );
}
