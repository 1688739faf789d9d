import { lengthOn } from "./use";

/** The length of a clip, on its picture; nothing on a still one. */
export function Length(props: { of: Parameters<typeof lengthOn>[0] }) {
  const text = lengthOn(props.of);
  if (!text) return null;
  return (
    <span className="absolute right-0 bottom-0 bg-ink px-1 font-mono text-xs text-paper">
      <span className="sr-only">Clip, </span>
      {text}
    </span>
  );
}
