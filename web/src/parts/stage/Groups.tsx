import { Accordion } from "radix-ui";
import { ChevronRight } from "lucide-react";
import { type ReactNode, useState } from "react";
import { local } from "../../base/storage/local";

const key = "raconte-stage-group";

/** What is done less often than drawing, grouped: one group is open at a time, and stays so from picture to picture. */
export function Groups({ children }: { children: ReactNode }) {
  const [open, setOpen] = useState(() => local.get(key) ?? "");
  return (
    <Accordion.Root
      type="single"
      collapsible
      value={open}
      onValueChange={(value) => {
        setOpen(value);
        local.set(key, value);
      }}
      className="border-t border-line"
    >
      {children}
    </Accordion.Root>
  );
}

export function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Accordion.Item value={name} className="border-b border-line">
      <Accordion.Header>
        <Accordion.Trigger className="group flex w-full items-center gap-1 px-1 py-1.5 text-left text-sm hover:bg-paper">
          <ChevronRight size={14} aria-hidden className="text-soft group-data-[state=open]:rotate-90" />
          {name}
        </Accordion.Trigger>
      </Accordion.Header>
      <Accordion.Content className="px-1 pt-0.5 pb-2.5">{children}</Accordion.Content>
    </Accordion.Item>
  );
}
