import { bytes } from "../../base/api/bytes";
import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { api, expect, type HouseFile, type HouseStyle } from "../../base/api/client";
import { Button, ChooseFiles } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { keysOf } from "../../base/typed";

type Props = { style: HouseStyle; set: (style: HouseStyle) => void };

const uses = { regular: "Regular", bold: "Bold", italic: "Italic", boldItalic: "Bold italic", mono: "Keys and code" };
const cuts: Record<string, keyof typeof uses> = {
  regular: "regular",
  bold: "bold",
  italic: "italic",
  "bold italic": "boldItalic",
};

/** The files of the house of a kind, and a way to add some. */
function useFiles(kind: "face" | "logo") {
  const notice = useNotice();
  const list = useQuery(ask("/api/housefiles", { query: { kind } }));
  const add = async (files: File[]) => {
    const added: HouseFile[] = [];
    for (const f of files) {
      try {
        const one = await expect(
          api.POST("/api/housefiles", {
            params: { query: { name: f.name } },
            ...bytes(f),
          }),
        );
        if (one.kind === kind) added.push(one);
        else notice({ text: `${f.name} is no ${kind === "face" ? "face" : "picture"}.` });
      } catch (e) {
        notice({ text: `${f.name}: ${reasonOf(e)}` });
      }
    }
    return added;
  };
  return { files: list.data ?? [], add };
}

/** The faces of a style: those that ship, or the house's own. */
export function Faces({ style, set }: Props) {
  const { files, add } = useFiles("face");
  const choose = (family: string) => {
    if (!family) return set({ ...style, faces: {} });
    const faces: HouseStyle["faces"] = { family };
    for (const f of files) {
      const use = cuts[f.cut ?? ""];
      if (f.family === family && use) faces[use] ??= f.sha256;
    }
    set({ ...style, faces });
  };
  const families = [...new Set(files.map((f) => f.family ?? ""))].sort();
  return (
    <div>
      <label className="block">
        <span className="block text-sm text-soft">Face</span>
        <select
          className="w-full rounded border border-soft bg-paper px-2 py-1"
          value={style.faces.family ?? ""}
          onChange={(e) => choose(e.target.value)}
        >
          <option value="">Atkinson Hyperlegible, which ships</option>
          {families.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
      </label>
      {style.faces.family && (
        <p className="mt-1 text-sm text-soft">
          {keysOf(uses)
            .filter((u) => !style.faces[u])
            .map((u) => uses[u].toLowerCase())
            .join(", ") || "Nothing"}{" "}
          is set in the face that ships.
        </p>
      )}
      <div className="mt-2">
        <ChooseFiles label="Add faces of the house" accept=".ttf,.otf" many onFiles={(f) => void add(f)} />
      </div>
    </div>
  );
}

/** The logo on the first page. */
export function Logo({ style, set }: Props) {
  const { add } = useFiles("logo");
  const take = async (files: File[]) => {
    const [logo] = await add(files);
    if (!logo?.width || !logo.height) return;
    set({
      ...style,
      logo: {
        sha256: logo.sha256,
        width: logo.width,
        pixels: logo.height,
        height: style.logo?.height ?? 30,
        alt: "Logo",
      },
    });
  };
  const { logo } = style;
  return (
    <>
      {logo && (
        <>
          <img src={`/api/housefiles/${logo.sha256}`} alt={logo.alt} className="max-h-16 max-w-full" />
          <label className="block text-sm">
            <span className="block text-soft">{`${Math.round((logo.height * 25.4) / 72)} mm high`}</span>
            <input
              type="range"
              min={8}
              max={120}
              value={logo.height}
              onChange={(e) => set({ ...style, logo: { ...logo, height: e.target.valueAsNumber } })}
              className="w-full"
            />
          </label>
          <label className="block">
            <span className="block text-sm text-soft">What stands for it where it can’t be seen</span>
            <input
              className="w-full rounded border border-soft bg-paper px-2 py-1"
              maxLength={200}
              value={logo.alt}
              onChange={(e) => set({ ...style, logo: { ...logo, alt: e.target.value } })}
            />
          </label>
          <Button onClick={() => set({ ...style, logo: undefined })}>Take it away</Button>
        </>
      )}
      <ChooseFiles
        label={logo ? "Another logo" : "Add a logo"}
        accept="image/png,image/jpeg"
        onFiles={(f) => void take(f)}
      />
    </>
  );
}
