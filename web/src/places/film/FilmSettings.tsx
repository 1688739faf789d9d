import { Link } from "react-router";
import type { Facts } from "../../base/api/client";
import { Few } from "../../base/ui/Few";

type Film = NonNullable<Facts["film"]>;

/** How the film is made: its size, captions, voice and movement. */
export function FilmSettings(props: { film: Film; speaks: boolean; onChange: (label: string, film: Film) => void }) {
  const { film } = props;
  const set = (part: Partial<Film>) => props.onChange("Change the film", { ...film, ...part });
  return (
    <section aria-label="How it is made" className="mt-3 space-y-2 border-t border-line pt-3 text-sm">
      <Choice
        label="Size"
        value={film.size ?? ""}
        choices={{ "": "1920 × 1080", "720p": "1280 × 720", upright: "Upright, 1080 × 1920" }}
        onChoose={(size) => set({ size })}
      />
      <Choice
        label="Captions"
        value={film.captions ?? ""}
        choices={{
          "": "A track that can be shown",
          picture: "In the picture",
          both: "In the picture, and as a track",
          none: "None",
        }}
        onChoose={(captions) => set({ captions })}
      />
      <Choice
        label="Voice"
        value={film.silent ? "silent" : ""}
        choices={{
          "": props.speaks ? "Synthetic, where nobody has recorded" : "Synthetic (not on this server)",
          silent: "Only what was recorded",
        }}
        onChoose={(v) => set({ silent: v === "silent" })}
      />
      <label className="grid grid-cols-[6rem_minmax(0,1fr)] items-center gap-2">
        <span className="text-soft">Pace</span>
        <span className="flex items-center gap-2">
          <input
            type="range"
            min={60}
            max={160}
            step={10}
            value={film.pace || 100}
            onChange={(e) => set({ pace: Number(e.target.value) === 100 ? 0 : Number(e.target.value) })}
            className="min-w-0 flex-1"
          />
          <span className="w-12 font-mono">{film.pace || 100} %</span>
        </span>
      </label>
      <Choice
        label="Around words"
        value={String(film.pause ?? 0)}
        choices={{ 200: "0.2 s of silence", 0: "0.6 s of silence", 1000: "1 s of silence", 2000: "2 s of silence" }}
        onChoose={(pause) => set({ pause: Number(pause) })}
      />
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={!film.still} onChange={(e) => set({ still: !e.target.checked })} />
        Go closer to where the marks are
      </label>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={film.within ?? false} onChange={(e) => set({ within: e.target.checked })} />
        Tell linked procedures within it; else a card names them
      </label>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={film.offered ?? false} onChange={(e) => set({ offered: e.target.checked })} />
        Readers can watch it, from the next release on
      </label>
      <p className="text-soft">
        How words are said by a synthetic voice, such as names and acronyms, is kept for the house under{" "}
        <Link to="/setup/words" className="text-action underline">
          Setup
        </Link>
        .
      </p>
    </section>
  );
}

function Choice<V extends string>(props: {
  label: string;
  value: V;
  choices: Record<V, string>;
  onChoose: (value: V) => void;
}) {
  return (
    <label className="grid grid-cols-[6rem_minmax(0,1fr)] items-center gap-2">
      <span className="text-soft">{props.label}</span>
      <Few value={props.value} options={props.choices} onPick={props.onChoose} />
    </label>
  );
}
