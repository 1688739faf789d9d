/** The key of a button, on it. */
export const Key = ({ name }: { name: string }) => (
  <kbd aria-hidden className="rounded border border-current px-1 font-mono text-xs opacity-70">
    {name}
  </kbd>
);
