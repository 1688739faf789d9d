import { Button } from "../../base/ui/controls";
import type { Item } from "../../parts/shots/shots";
import { repeats } from "./reasons";

/** What was noticed of the shots of a session, with what can be done about it. */
export function Noticed(props: { all: Item[]; onDelete: (items: Item[], text: string) => void; onEven: () => void }) {
  const { all, onDelete, onEven } = props;
  const repeated = all.filter(repeats);
  const uneven = all.filter((i) => i.taken?.uneven).length;
  if (repeated.length === 0 && uneven === 0) return null;
  return (
    <ul aria-label="What was noticed" className="space-y-1 border-b border-line bg-paper px-5 py-2">
      {repeated.length > 0 && (
        <li className="flex items-center gap-3 border-l-[3px] border-call pl-3">
          {repeated.length === 1 ? "1 shot repeats" : `${repeated.length} shots repeat`} the one before. Nothing is
          deleted by itself.
          <Button
            onClick={() =>
              onDelete(
                repeated,
                repeated.length === 1 ? "The repeat is deleted." : `${repeated.length} repeats are deleted.`,
              )
            }
          >
            Delete {repeated.length === 1 ? "it" : "them"}
          </Button>
        </li>
      )}
      {uneven > 0 && (
        <li className="flex items-center gap-3 border-l-[3px] border-call pl-3">
          {uneven === 1 ? "1 shot is" : `${uneven} shots are`} a little larger or smaller than the one before, so that
          steps would jump.
          <Button onClick={() => onEven()}>Make them even</Button>
        </li>
      )}
    </ul>
  );
}
