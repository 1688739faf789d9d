import { Dialog, DropdownMenu } from "radix-ui";
import { useNotice } from "./notices";
import { type ComponentProps, type MouseEvent, type ReactNode, useRef, useState } from "react";

const looks = {
  plain: "border border-line bg-paper text-ink hover:border-soft",
  main: "border border-action bg-action text-paper hover:bg-ink hover:border-ink",
  call: "border border-call bg-call text-ink font-bold hover:bg-paper hover:border-paper",
  quiet: "border border-transparent text-action hover:border-line",
  dark: "border border-transparent text-paper hover:bg-deep disabled:text-soft disabled:hover:bg-transparent",
};

export function Button({
  look = "plain",
  small = false,
  className = "",
  why = "",
  ...rest
}: ComponentProps<"button"> & {
  look?: keyof typeof looks;
  small?: boolean;
  /** Why it can't be pressed now: told to whoever points at it, comes to it or presses it. "" where it can. */
  why?: string | false | undefined;
}) {
  const notice = useNotice();
  const room = small ? "px-2 py-0.5 text-left text-sm" : "px-3 py-1.5 whitespace-nowrap";
  return (
    <button
      type="button"
      className={`inline-flex items-center gap-1.5 rounded disabled:opacity-60 aria-disabled:opacity-60 ${room} ${looks[look]} ${className}`}
      {...rest}
      {...(why && {
        "aria-disabled": true,
        title: why,
        "aria-description": why,
        // Enter in the form that it would send comes here, too.
        onClick: (e: MouseEvent) => {
          e.preventDefault();
          notice({ text: why });
        },
      })}
    />
  );
}

export type Choice = { label: string; run: () => void; danger?: boolean } | "line";

/** A button that opens a list of actions; the label is for buttons without words. */
export function Actions({
  label,
  children,
  choices,
  className,
  mark,
}: {
  label?: string;
  children: ReactNode;
  choices: Choice[];
  className?: string;
  /** Marks the list, for what closes when the focus goes elsewhere. */
  mark?: string;
}) {
  const trigger = useRef<HTMLButtonElement>(null);
  const chosen = useRef<() => void>(undefined);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        ref={trigger}
        aria-label={label}
        className={className ?? "rounded px-2 py-1 text-soft hover:bg-desk hover:text-ink data-[state=open]:bg-desk"}
      >
        {children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          // What was chosen is done when the list is gone and the keyboard is back where it was: so it can take it
          // elsewhere.
          onCloseAutoFocus={(e) => {
            const run = chosen.current;
            chosen.current = undefined;
            if (!run) return;
            e.preventDefault();
            trigger.current?.focus();
            run();
          }}
          {...(mark && { [`data-${mark}`]: "" })}
          className="z-40 max-h-[var(--radix-dropdown-menu-content-available-height)] min-w-52 overflow-y-auto rounded border border-soft bg-paper p-1 text-ink"
        >
          {choices.map((c, i) =>
            c === "line" ? (
              <DropdownMenu.Separator key={i} className="my-1 h-px bg-line" />
            ) : (
              <DropdownMenu.Item
                key={c.label}
                onSelect={() => (chosen.current = c.run)}
                className={`rounded-sm px-3 py-1.5 outline-none data-[highlighted]:bg-desk ${c.danger ? "text-mustfix" : ""}`}
              >
                {c.label}
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** A dialog. A press beside it closes nothing: what was typed in it would be lost. */
export function Panel(props: { title: string; children: ReactNode; wide?: boolean; onDone: () => void }) {
  const { title, children, wide, onDone } = props;
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(e) => e.preventDefault()}
          className={`fixed left-1/2 z-50 -translate-x-1/2 ${wide ? "top-[7%] w-[min(52rem,94vw)]" : "top-[8%] w-[min(32rem,92vw)]"} max-h-[88dvh] overflow-y-auto rounded-md border border-soft bg-paper p-6`}
        >
          <Dialog.Title className="mb-4 text-lg font-bold">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Asks for one line of text, in a dialog. */
export function AskDialog(props: {
  title: string;
  label: string;
  initial: string;
  confirm: string;
  check?: (text: string) => string;
  onDone: (text: string | null) => void;
}) {
  const [text, setText] = useState(props.initial);
  const problem = props.check?.(text.trim()) ?? "";
  const [tried, setTried] = useState(false);
  return (
    <Panel title={props.title} onDone={() => props.onDone(null)}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          setTried(true);
          if (text.trim() && !problem) props.onDone(text.trim());
        }}
      >
        <Field label={props.label} value={text} onChange={setText} autoFocus />
        {tried && problem && <p className="mt-2 text-mustfix">{problem}</p>}
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={() => props.onDone(null)}>Cancel</Button>
          <Button look="main" type="submit">
            {props.confirm}
          </Button>
        </div>
      </form>
    </Panel>
  );
}

export function Field(props: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  type?: string;
  autoFocus?: boolean;
  /** What stands in it is chosen at first, so that typing replaces it. */
  chosen?: boolean;
  autoComplete?: string;
}) {
  return (
    <label className="block">
      <span className="mb-1 block text-sm text-soft">{props.label}</span>
      <input
        className="w-full rounded border border-soft bg-paper px-3 py-2"
        type={props.type ?? "text"}
        value={props.value}
        autoFocus={props.autoFocus}
        onFocus={props.chosen ? (e) => e.currentTarget.select() : undefined}
        autoComplete={props.autoComplete ?? "off"}
        onChange={(e) => props.onChange(e.target.value)}
      />
    </label>
  );
}

/** What a page shows while it has nothing to show yet, or never will. */
export function Blank({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <main className="mx-auto max-w-xl px-6 py-24 text-center">
      <h1 className="text-xl font-bold">{title}</h1>
      {children && <div className="mt-3 text-soft">{children}</div>}
    </main>
  );
}

/** A file chooser behind a button. */
export function ChooseFiles(props: {
  label: string;
  accept: string;
  many?: boolean;
  folder?: boolean;
  look?: keyof typeof looks;
  small?: boolean;
  onFiles: (files: File[]) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button look={props.look} small={props.small} onClick={() => input.current?.click()}>
        {props.label}
      </Button>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label={props.label}
        tabIndex={-1}
        accept={props.accept}
        multiple={props.many}
        {...(props.folder && { webkitdirectory: "" })}
        onChange={(e) => {
          props.onFiles([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
    </>
  );
}
