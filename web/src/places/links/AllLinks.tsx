import { useQuery } from "@tanstack/react-query";
import { type Account, api, expect } from "../../base/api/client";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { SetupTabs } from "../../parts/bar/SetupTabs";
import { Button } from "../../base/ui/controls";
import { useHouse } from "../../parts/house/useHouse";
import { Failed, Loading } from "../../base/ui/states";
import { useTitle } from "../../base/ui/title";
import { ShareList } from "../../parts/share/ShareList";

/** All links of the house, and which sites may show them in a frame: for administrators. */
export function AllLinks({ account }: { account: Account }) {
  useTitle("Links");
  const list = useQuery({ queryKey: ["shares"], staleTime: 0, queryFn: () => expect(api.GET("/api/shares")) });
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-4xl px-4 py-6">
        <SetupTabs account={account} />
        <h1 className="mb-1 text-2xl font-bold">Links</h1>
        <p className="mb-3 max-w-prose text-soft">
          What can be read without an account, by whoever has the address. Links are made under Share, in a document.
        </p>
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
      </main>
    </>
  );
}

function Frames() {
  const frames = useHouse("frames");
  return (
    <section aria-labelledby="frames" className="mt-6 rounded border border-line bg-paper p-5">
      <h2 id="frames" className="mb-1 text-lg font-bold">
        Sites that may show links in a frame
      </h2>
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
    </section>
  );
}
