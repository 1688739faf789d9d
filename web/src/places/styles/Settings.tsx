import { useId, type ReactNode } from "react";
import type { HouseStyle } from "../../base/api/client";
import { layouts } from "../../parts/house/layouts";
import { Faces, Logo } from "./HouseFiles";
import { PrintedWords } from "./PrintedWords";
import { Few } from "../../base/ui/Few";

type Props = { style: HouseStyle; set: (style: HouseStyle, of?: string) => void };

const box = "w-full rounded border border-soft bg-paper px-2 py-1";
const mm = (points: number) => Math.round((points * 254) / 72) / 10;
const points = (mm: number) => Math.round((mm * 720) / 25.4) / 10;

const placeholders =
  "title, kind, number, revision, state, date, effective, review, owner, author, approver, classification, section, house, page, pages, page of pages";

/** All settings of a style, in groups. */
export function Settings({ style, set }: Props) {
  const part = <K extends keyof HouseStyle>(name: K, change: Partial<HouseStyle[K]>, of = String(name)) =>
    set({ ...style, [name]: { ...(style[name] as object), ...(change as object) } }, of);
  return (
    <>
      <Group name="name" title="Style">
        <Line label="Name">
          <input
            className={box}
            maxLength={80}
            value={style.name}
            onChange={(e) => set({ ...style, name: e.target.value }, "name")}
          />
        </Line>
        <Line label="Language of what is printed">
          <Select
            value={style.language}
            options={{ en: "English", de: "Deutsch", fr: "Français", es: "Español" }}
            onPick={(language) => set({ ...style, language })}
          />
        </Line>
      </Group>
      <Group name="paper" title="Paper">
        <Line label="Size">
          <Select
            value={style.paper.name}
            options={{ a4: "A4", a5: "A5", letter: "Letter", own: "A size of its own" }}
            onPick={(name) =>
              part("paper", { name, width: style.paper.width ?? 595, height: style.paper.height ?? 842 })
            }
          />
        </Line>
        {style.paper.name === "own" && (
          <div className="grid grid-cols-2 gap-2">
            <Measure
              label="Width, mm"
              value={style.paper.width ?? 595}
              onChange={(width) => part("paper", { width })}
            />
            <Measure
              label="Height, mm"
              value={style.paper.height ?? 842}
              onChange={(height) => part("paper", { height })}
            />
          </div>
        )}
        <Tick label="Across" on={style.paper.across ?? false} onPick={(across) => part("paper", { across })} />
        <div className="grid grid-cols-4 gap-2">
          {(["top", "right", "bottom", "left"] as const).map((side) => (
            <Measure
              key={side}
              label={`${side[0]?.toUpperCase()}${side.slice(1)}`}
              value={style.margins[side]}
              onChange={(v) => part("margins", { [side]: v }, side)}
            />
          ))}
        </div>
      </Group>
      <Group name="steps" title="Steps">
        <Line label="Layout">
          <Select
            value={style.layout}
            options={Object.fromEntries(layouts.map((l) => [l.layout, `${l.name}, ${l.use}`]))}
            onPick={(layout) => set({ ...style, layout: layout })}
          />
        </Line>
        <Tick label="A line above each step" on={style.steps.rules} onPick={(rules) => part("steps", { rules })} />
      </Group>
      <Group name="pictures" title="Pictures">
        <Slider
          label={`Width beside words: ${Math.round(style.steps.share * 100)} %`}
          min={30}
          max={75}
          value={style.steps.share * 100}
          onChange={(v) => part("steps", { share: Math.round(v) / 100 }, "share")}
        />
        <Slider
          label={`At most ${Math.round((style.steps.largest * 100) / 0.75)} % of their size on a screen`}
          min={27}
          max={200}
          value={(style.steps.largest * 100) / 0.75}
          onChange={(v) => part("steps", { largest: Math.round(v * 0.75) / 100 }, "largest")}
        />
        <Slider
          label={`Bands are ${mm(style.steps.band)} mm high`}
          min={14}
          max={100}
          value={mm(style.steps.band)}
          onChange={(v) => part("steps", { band: points(v) }, "band")}
        />
        <Line label="Frame of pictures without an edge of their own">
          <Select
            value={style.steps.frame ?? ""}
            options={{ "": "A hairline", line: "A line", none: "None" }}
            onPick={(frame) => part("steps", { frame })}
          />
        </Line>
      </Group>
      <Group name="words" title="Words">
        <Slider
          label={`Size: ${style.size} pt`}
          min={6}
          max={24}
          step={0.5}
          value={style.size}
          onChange={(size) => set({ ...style, size }, "size")}
        />
        <Faces style={style} set={set} />
        <div className="grid grid-cols-5 gap-2">
          {(["text", "soft", "line", "accent", "shade"] as const).map((c) => (
            <label key={c} className="text-sm">
              <span className="block text-soft">
                {{ text: "Words", soft: "Soft", line: "Lines", accent: "Accent", shade: "Shade" }[c]}
              </span>
              <input
                type="color"
                value={style.colors[c]}
                onChange={(e) => part("colors", { [c]: e.target.value }, `color ${c}`)}
                className="h-8 w-full rounded border border-soft"
              />
            </label>
          ))}
        </div>
      </Group>
      <Group name="numbers" title="Numbers">
        <Tick label="Sections" on={style.numbers.sections} onPick={(sections) => part("numbers", { sections })} />
        <Tick label="Steps" on={style.numbers.steps} onPick={(steps) => part("numbers", { steps })} />
        <Tick
          label="Pictures, as a caption"
          on={style.numbers.pictures}
          onPick={(pictures) => part("numbers", { pictures })}
        />
      </Group>
      <Group name="title" title="Title page">
        <Line label="It has one">
          <Select
            value={style.title}
            options={{ "": "if it is a manual", all: "always", none: "never" }}
            onPick={(title) => set({ ...style, title })}
          />
        </Line>
      </Group>
      <Group name="logo" title="Logo">
        <Logo style={style} set={set} />
      </Group>
      <Group name="contents" title="Contents">
        <Line label="They list">
          <Select
            value={style.contents}
            options={{ "": "sections and steps", sections: "sections", none: "nothing: there are none" }}
            onPick={(contents) => set({ ...style, contents })}
          />
        </Line>
      </Group>
      {(["header", "footer"] as const).map((band) => (
        <Group key={band} name={band} title={band === "header" ? "Header" : "Footer"}>
          {(["left", "middle", "right"] as const).map((side) => (
            <Line key={side} label={{ left: "Left", middle: "Middle", right: "Right" }[side]}>
              <input
                className={box}
                maxLength={200}
                value={style[band][side] ?? ""}
                onChange={(e) => part(band, { [side]: e.target.value }, `${band} ${side}`)}
              />
            </Line>
          ))}
          <Tick
            label="A line between it and the page"
            on={style[band].rule ?? false}
            onPick={(rule) => part(band, { rule })}
          />
          {band === "footer" && (
            <p className="text-sm text-soft">
              In braces, these stand for what is known: {placeholders}. A part between “ · ” of which nothing is known
              is left out.
            </p>
          )}
        </Group>
      ))}
      <Group name="links" title="Links and signal words">
        <Tick
          label="Links are underlined"
          on={style.links.underlined}
          onPick={(underlined) => part("links", { underlined })}
        />
        <Tick label="Codes for cameras" on={style.links.codes} onPick={(codes) => part("links", { codes })} />
        <Tick
          label="Addresses written out"
          on={style.links.addresses}
          onPick={(addresses) => part("links", { addresses })}
        />
        <Line label="Signal words stand">
          <Select
            value={style.notices}
            options={{ "": "across, above what is said", beside: "beside what is said" }}
            onPick={(notices) => set({ ...style, notices })}
          />
        </Line>
      </Group>
      <Group name="stamps" title="Stamps">
        <Tick label="Drafts are stamped" on={style.stamps.draft} onPick={(draft) => part("stamps", { draft })} />
        <Tick
          label="Replaced copies are stamped"
          on={style.stamps.replaced}
          onPick={(replaced) => part("stamps", { replaced })}
        />
      </Group>
      <Group name="printed" title="Words printed">
        <PrintedWords style={style} set={set} />
      </Group>
    </>
  );
}

function Group({ name, title, children }: { name: string; title: string; children: ReactNode }) {
  return (
    <section data-setting={name} className="scroll-mt-2 border-b border-line py-4 last:border-0">
      <h2 className="mb-2 font-bold">{title}</h2>
      <div className="space-y-2">{children}</div>
    </section>
  );
}

function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="block">
      <span className="block text-sm text-soft">{label}</span>
      {children}
    </label>
  );
}

function Select<T extends string>(props: {
  value: T;
  options: Partial<Record<T, string>>;
  onPick: (value: T) => void;
}) {
  return <Few {...props} className={box} />;
}

function Tick({ label, on, onPick }: { label: string; on: boolean; onPick: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
      <input type="checkbox" checked={on} onChange={(e) => onPick(e.target.checked)} />
      {label}
    </label>
  );
}

function Measure({ label, value, onChange }: { label: string; value: number; onChange: (points: number) => void }) {
  return (
    <label className="block text-sm">
      <span className="block text-soft">{label}</span>
      <input
        type="number"
        min={7}
        max={847}
        step={1}
        value={mm(value)}
        onChange={(e) => e.target.valueAsNumber > 0 && onChange(points(e.target.valueAsNumber))}
        className={box}
      />
    </label>
  );
}

function Slider(props: {
  label: string;
  min: number;
  max: number;
  step?: number;
  value: number;
  onChange: (value: number) => void;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block text-sm text-soft">
        {props.label}
      </label>
      <input
        id={id}
        type="range"
        min={props.min}
        max={props.max}
        step={props.step ?? 1}
        value={props.value}
        onChange={(e) => props.onChange(e.target.valueAsNumber)}
        className="w-full"
      />
    </div>
  );
}
