import { usePlaces } from "./useStandings";

export type Where = { place: string; path: string } | undefined;

const box = "rounded border border-soft bg-paper px-2 py-1";

/** Where a file goes: among the deliveries, or into a place of the house at each release. */
export function Whereto({ where, onWhere }: { where: Where; onWhere: (where: Where) => void }) {
  const places = usePlaces(true).data ?? [];
  const first = places[0];
  if (first === undefined) return null;
  return (
    <fieldset>
      <legend className="mb-1 font-bold">Where it goes</legend>
      <label className="flex items-baseline gap-2 py-0.5">
        <input type="radio" name="where" checked={!where} onChange={() => onWhere(undefined)} />
        Under Deliveries, for 30 days
      </label>
      <label className="flex items-baseline gap-2 py-0.5">
        <input type="radio" name="where" checked={!!where} onChange={() => onWhere({ place: first, path: "" })} />
        To a place of the house, again at each release
      </label>
      {where && (
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 py-1 pl-6">
          <label className="flex items-center gap-2">
            Place
            <select value={where.place} onChange={(e) => onWhere({ ...where, place: e.target.value })} className={box}>
              {places.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-2">
            Folder in it
            <input
              maxLength={200}
              value={where.path}
              placeholder="none"
              onChange={(e) => onWhere({ ...where, path: e.target.value })}
              className={box}
            />
          </label>
          <p className="basis-full text-sm text-soft">
            The valid revision lies there; when it is retired, nothing does.
          </p>
        </div>
      )}
    </fieldset>
  );
}
