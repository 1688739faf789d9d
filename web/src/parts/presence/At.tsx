import { shown } from "../../base/ui/shown";
import { colourOf } from "./colours";

/** The bar at a step where someone else is, with their name. */
export function At({ by }: { by: string }) {
  if (!by) return null;
  const [account = "", ...name] = by.slice(1).split(" ");
  const writes = by.startsWith("+");
  const colour = colourOf(account);
  return (
    <div
      aria-live="polite"
      className="pointer-events-none absolute inset-y-0 left-0"
      style={{ borderLeft: `4px solid ${colour}` }}
    >
      <span
        className="absolute top-0 left-0 rounded-br px-1.5 text-xs whitespace-nowrap text-paper"
        style={{ backgroundColor: colour }}
      >
        {shown(name.join(" "))}
        {writes && " is writing"}
      </span>
    </div>
  );
}
