import { dayShort, momentShort } from "../../base/format";
import { Link, useSearchParams } from "react-router";
import { type Account, type Delivery, mayEdit } from "../../base/api/client";
import { Places, TopBar } from "../../parts/bar/TopBar";
import { Button } from "../../base/ui/controls";
import { Failed, Loading } from "../../base/ui/states";
import { layoutName } from "../../parts/house/layouts";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import { Progress } from "../../parts/deliveries/Progress";
import { Standings } from "../../parts/deliveries/Standings";
import { useDeliveries, useDeliveryAct } from "../../parts/deliveries/useDeliveries";

/** Files made of documents: one's own, or all of one document. */
export function Deliveries({ account }: { account: Account }) {
  const [search] = useSearchParams();
  const document = search.get("document") ?? undefined;
  const list = useDeliveries(document);
  useTitle("Deliveries");
  const all = list.data ?? [];
  const title = document !== undefined && all[0] ? shown(all[0].title) : undefined;
  return (
    <>
      <TopBar account={account}>
        <Places account={account} />
      </TopBar>
      <main className="mx-auto max-w-5xl px-4 py-6">
        <div className="mb-4 flex flex-wrap items-baseline gap-x-4">
          <h1 className="text-2xl font-bold">{title ? `Deliveries of “${title}”` : "Deliveries"}</h1>
          {document !== undefined && (
            <Link to="/deliveries" className="text-action underline">
              Show all of mine
            </Link>
          )}
        </div>
        {document === undefined && <Standings edits={mayEdit(account)} />}
        {list.isPending && <Loading what="the deliveries" />}
        {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
        {list.data && all.length === 0 && (
          <p className="rounded border border-line bg-paper px-6 py-10 text-center text-soft">
            Nothing has been made yet. Open a document, go to its pages, and make a file of it: it is kept here for 30
            days.
          </p>
        )}
        {all.length > 0 && (
          <ul className="rounded border border-line bg-paper">
            {all.map((d) => (
              <Row key={d.id} of={d} />
            ))}
          </ul>
        )}
      </main>
    </>
  );
}

function Row({ of: d }: { of: Delivery }) {
  const again = useDeliveryAct("again");
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-4 py-2.5 last:border-0">
      <span className="min-w-0 flex-1 basis-64">
        <Link
          to={d.folder ? `/?folder=${d.folder}` : `/d/${d.document}/pages`}
          className="font-bold break-words text-action hover:underline"
        >
          {shown(d.title)}
        </Link>
        <span className="block text-sm text-soft">
          {d.format}
          {d.folder && " of each document that is valid"}
          {d.from && !d.folder && `, from ${d.from === "Draft" ? "the draft" : d.from.toLowerCase()}`}
          {d.steps ? `, ${d.steps === 1 ? "1 step" : `${d.steps} steps`}` : ""}
          {d.layout ? `, ${layoutName(d.layout)}` : ""}. Made {momentShort(d.at)} by {d.mine ? "you" : d.by}, kept until{" "}
          {dayShort(d.goes)}.{d.taken && ` Downloaded by ${d.taken}.`}
        </span>
      </span>
      <Progress of={d} />
      {d.state === "done" && (
        <Button small disabled={again.isPending} onClick={() => again.mutate(d.id)}>
          {d.folder ? "Again, as it is now" : "Again from the present document"}
        </Button>
      )}
      {again.error && <span className="text-mustfix">{again.error.message}</span>}
    </li>
  );
}
