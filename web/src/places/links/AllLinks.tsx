import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { type Account } from "../../base/api/client";
import { SetupPage, Subject } from "../../parts/bar/SetupPage";
import { Button } from "../../base/ui/controls";
import { useHouse } from "../../parts/house/useHouse";
import { Failed, Loading } from "../../base/ui/states";
import { ShareList } from "../../parts/share/ShareList";

/** All links of the house, and which sites may show them in a frame: for administrators. */
export function AllLinks({ account }: { account: Account }) {
  const list = useQuery({ ...ask("/api/shares"), staleTime: 0 });
  return (
    <SetupPage
      account={account}
      title="Links"
      about="What can be read without an account, by whoever has the address. Links are made under Share, in a document."
    >
      {list.isPending && <Loading what="the links" />}
      {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
      {list.data && (
        <div className="rounded border border-line bg-paper px-4 py-2">
          {list.data.length === 0 ? (
            <p className="py-4 text-soft">There is no link.</p>
          ) : (
            <ShareList shares={list.data} titled />
          )}
        </div>
      )}
      <Frames />
    </SetupPage>
  );
}

function Frames() {
  const frames = useHouse("frames");
  return (
    <Subject id="frames" title="Sites that may show links in a frame">
      <p id="frames-help" className="mb-2 max-w-prose text-soft">
        One address on each line, as in https://intranet.house.example. All other sites are refused.
      </p>
      <textarea
        aria-labelledby="frames"
        aria-describedby="frames-help"
        rows={3}
        value={frames.value?.join("\n") ?? ""}
        onChange={(e) => frames.set(e.target.value.split("\n"))}
        className="w-full max-w-xl rounded border border-soft px-2 py-1 font-mono text-sm"
      />
      <div>
        <Button
          className="mt-2"
          why={!frames.changed && "Nothing was changed."}
          onClick={() => void frames.save("Kept.")}
        >
          Save
        </Button>
      </div>
    </Subject>
  );
}
