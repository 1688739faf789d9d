import { Tooltip } from "radix-ui";
import type { ReactElement } from "react";

/** Says what a button without words does, to whoever points at it or comes to it by keyboard. */
export function Tip({ text, children }: { text: string; children: ReactElement }) {
  return (
    <Tooltip.Provider delayDuration={500}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content sideOffset={5} className="z-50 max-w-64 rounded bg-ink px-2 py-1 text-sm text-paper">
            {text}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  );
}
