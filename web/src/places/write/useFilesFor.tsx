import { type ReactNode, useRef } from "react";
import { movingTypes, pictureTypes } from "../../base/api/client";

/** Asks for the pictures of a step; the input stands somewhere on the page. */
export function useFilesFor(onFiles: (files: File[], block: string | undefined) => void): {
  input: ReactNode;
  ask: (block: string) => void;
} {
  const chooser = useRef<HTMLInputElement>(null);
  const block = useRef<string>(undefined);
  return {
    ask: (of) => {
      block.current = of;
      chooser.current?.click();
    },
    input: (
      <input
        ref={chooser}
        type="file"
        className="hidden"
        multiple
        tabIndex={-1}
        aria-label="Pictures for this step"
        accept={`${pictureTypes},${movingTypes}`}
        onChange={(e) => {
          onFiles([...(e.target.files ?? [])], block.current);
          e.target.value = "";
        }}
      />
    ),
  };
}
