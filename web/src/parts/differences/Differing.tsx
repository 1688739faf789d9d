import { momentOf } from "../../base/format";
import { type Differences } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { Facts } from "./Facts";
import { Pictures } from "./Pictures";
import { Reworded } from "./Reworded";
import { keysOf } from "../../base/typed";

type Block = Differences["difference"]["blocks"][number];
type Change = Block["changes"][number];

const said: Record<Change, string> = {
  added: "New",
  removed: "Removed",
  moved: "Moved",
  reworded: "Reworded",
  restyled: "Set in another way",
  pictures: "Other pictures",
  notice: "Other notice",
  about: "Other facts",
};

const counts: Record<Change, string> = {
  added: "new",
  removed: "removed",
  moved: "moved",
  reworded: "reworded",
  restyled: "set in another way",
  pictures: "with other pictures",
  notice: "with another notice",
  about: "with other facts",
};

/** How many steps changed in which way, as one line: "2 new, 1 reworded". */
const counted = (of: Differences["difference"]["counts"]) =>
  keysOf(counts)
    .filter((c) => of[c])
    .map((c) => `${of[c]} ${counts[c]}`)
    .join(", ");

/** What has changed, step by step. */
export function Differing({ id, d, all }: { id: string; d: Differences; all: boolean }) {
  return (
    <>
      <p className="mb-5 text-soft">
        {d.from.said} ({d.from.by}, {momentOf(d.from.at)}) to {d.to.said.toLowerCase()} ({d.to.by}, {momentOf(d.to.at)}
        ). {counted(d.difference.counts) || (d.difference.facts.length ? "" : "Nothing has changed.")}
        {counted(d.difference.counts) && "."}
      </p>
      {d.difference.facts.length > 0 && (
        <section aria-labelledby="facts" className="mb-5 rounded border border-line bg-paper p-4">
          <h2 id="facts" className="mb-2 font-bold">
            About the document
          </h2>
          <Facts facts={d.difference.facts} />
        </section>
      )}
      <ol className="space-y-3">
        {folded(d.difference.blocks, all).map((b, i) =>
          typeof b === "number" ? (
            <li key={`same ${i}`} className="px-4 text-sm text-soft">
              {b === 1 ? "1 step is as it was." : `${b} steps are as they were.`}
            </li>
          ) : (
            <Row key={`${b.before} ${b.after}`} id={id} block={b} from={d.from.revision ?? 1} to={d.to.revision} />
          ),
        )}
      </ol>
    </>
  );
}

/** Runs of what has not changed are told by how many there are, unless all is asked for. */
function folded(blocks: Block[], all: boolean): (Block | number)[] {
  const out: (Block | number)[] = [];
  for (const b of blocks) {
    const last = out.at(-1);
    if (all || b.changes.length > 0) out.push(b);
    else if (typeof last === "number") out[out.length - 1] = last + 1;
    else out.push(1);
  }
  return out;
}

const edge: Partial<Record<Change, string>> = { added: "border-l-action", removed: "border-l-mustfix" };

/** One step: how it was numbered and is, what about it changed, its words and pictures. */
function Row({ id, block: b, from, to }: { id: string; block: Block; from: number; to: number | undefined }) {
  const first = b.changes[0];
  return (
    <li
      className={`rounded border border-l-[4px] border-line bg-paper p-4 print:break-inside-avoid ${(first && edge[first]) ?? (first ? "border-l-call" : "border-l-line")}`}
    >
      <p className="mb-1 flex flex-wrap items-baseline gap-x-3 text-sm text-soft">
        <b className="text-base text-ink">{b.number || b.was || (b.type === "passage" ? "Between steps" : "")}</b>
        {b.was && b.number && b.was !== b.number && <span>was {b.was}</span>}
        {b.changes.map((c) => (
          <span key={c} className="rounded border border-soft px-1.5">
            {said[c]}
          </span>
        ))}
      </p>
      {b.words.length > 0 ? <Reworded words={b.words} /> : <p dir="auto">{shown(b.label)}</p>}
      {b.facts.length > 0 && <Facts facts={b.facts} />}
      {b.pictures.map((p) => (
        <Pictures key={`${p.before} ${p.after}`} document={id} picture={p} from={from} to={to} />
      ))}
    </li>
  );
}
