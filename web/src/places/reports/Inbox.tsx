import { momentOf } from "../../base/format";
import { useState } from "react";
import { Link } from "react-router";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { Toggles } from "../../base/ui/toggles";
import { standing } from "../../parts/answers/standing";
import { useInbox } from "../../parts/answers/useInbox";

const views = { open: "Open", mine: "Mine", closed: "Closed" };

const ago = (iso: string) => {
  const minutes = Math.max(0, Math.round((Date.now() - Date.parse(iso)) / 60_000));
  if (minutes < 60) return `${minutes} min`;
  return minutes < 48 * 60 ? `${Math.round(minutes / 60)} h` : `${Math.round(minutes / 1440)} days`;
};

/** Requests that came in by a door or as mail: new ones first. */
export function Inbox() {
  const [view, setView] = useState<keyof typeof views>("open");
  const [text, setText] = useState("");
  const list = useInbox({
    ...(view === "closed" && { state: "closed" }),
    ...(view === "mine" && { mine: true }),
    ...(text.trim() && { text: text.trim() }),
  });
  return (
    <>
      <div className="mb-3 flex flex-wrap gap-3">
        <Toggles label="Which requests" value={view} options={views} onPick={setView} />
        <input
          type="search"
          aria-label="Find in the inbox"
          placeholder="Find by a name or a word"
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="min-w-60 flex-1 rounded border border-soft bg-paper px-3 py-1.5 placeholder:text-soft"
        />
      </div>
      {list.isPending && <Loading what="the inbox" />}
      {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
      {list.data?.length === 0 && (
        <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">
          {view === "open" && !text.trim()
            ? "Nothing waits. Open a door and give its address to whoever may need help."
            : "No request is like that."}
        </p>
      )}
      {list.data && list.data.length > 0 && (
        <ul aria-label="Requests" className="divide-y divide-line rounded border border-line bg-paper px-4">
          {list.data.map((a) => (
            <li key={a.document} className="grid grid-cols-[7rem_minmax(0,1fr)_auto] items-baseline gap-3 py-2.5">
              <span className={`text-sm font-bold ${a.state === "new" ? "text-mustfix" : "text-soft"}`}>
                {a.state === "new"
                  ? "New"
                  : a.state === "taken"
                    ? "Taken"
                    : a.state === "answered"
                      ? "Answered"
                      : "Closed"}
              </span>
              <span className="min-w-0">
                <Link to={`/d/${a.document}/write`} className="font-bold break-words text-action hover:underline">
                  {shown(a.title)}
                </Link>
                <span className="block text-sm text-soft">
                  {shown(a.asker)}. {standing(a)}.
                </span>
              </span>
              <span className="text-sm whitespace-nowrap text-soft" title={momentOf(a.at)}>
                since {ago(a.at)}
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-4 text-sm text-soft">
        People without an account come in by a door.{" "}
        <Link to="/setup/doors" className="text-action underline">
          Open or close doors
        </Link>
      </p>
    </>
  );
}
