import { useState } from "react";
import { Link } from "react-router";
import { movingTypes, pictureTypes } from "../../base/api/client";
import { core } from "../../base/core/core";
import { ChooseFiles } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { FilmOptions } from "./FilmOptions";
import { recorder } from "../../parts/capture/recorder";
import { useReceivers } from "../../parts/receivers/useReceivers";
import { afterOf, afters, froms } from "../../parts/capture/after";
import { type After, change, type From, type Settings, useSettings, type When } from "../../parts/shots/settings";
import { SharedScreen } from "../../parts/capture/sources/screen";
import { languages, type PointerChoice, type What } from "../../base/core/capture";
import { bringFiles } from "../../parts/capture/useInflow";
import { useRecorder } from "../../parts/capture/use";
import { keysOf } from "../../base/typed";
import { Few } from "../../base/ui/Few";

const whats: [What, string, string][] = [
  ["window", "A window", "The one under the pointer"],
  ["element", "A part of a window", "A button, field or row under the pointer"],
  ["region", "A region", "Drawn on the picture"],
  ["outline", "A freehand outline", "Transparent outside"],
  ["band", "A band of a window", "Full width, around the pointer"],
  ["page", "A long page or list", "Joined from parts while it is scrolled"],
  ["monitor", "A monitor", "The one under the pointer"],
  ["everything", "Everything", "All monitors"],
];

const whens: [When, string][] = [
  ["now", "When I say so"],
  ["delay", "After a countdown"],
  ["click", "On each click, as it was before"],
  ["settled", "When the screen has changed and settled"],
];

const pointers: [PointerChoice, string][] = [
  ["out", "Left out"],
  ["in", "In the picture"],
  ["apart", "As a mark that can be moved"],
];

const names = keysOf(afters);

const lower = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);

/** What is taken and when, and what else matters of it, in words. */
export function summary(s: Settings, knowsPointer: boolean, source?: string): [string, string] {
  const after = afterOf(s, source);
  const what = whats.find(([w]) => w === s.what)?.[1] ?? "";
  const when = {
    now: "when I say so",
    delay: `after ${s.delay} seconds`,
    click: "on each click",
    settled: "when it has settled",
  };
  const pointer = { out: "pointer left out", in: "pointer in the picture", apart: "pointer as a mark" }[s.pointer];
  const then = names.filter((a) => after[a]).map((a) => afters[a].said);
  if (after.send) then.push("shown for sending");
  const said = then.length > 0 ? `each ${then.join(" and ")} at once` : "nothing opens after";
  return [`${what}, ${when[s.when]}`, lower([...(knowsPointer ? [pointer] : []), said].join(", "))];
}

/** How to capture: where from, what, when, and what then. */
export function Options({ onBrought }: { onBrought: () => void }) {
  const s = useSettings();
  const rec = useRecorder();
  const notice = useNotice();
  const source = rec.source;
  const set = (some: Partial<Settings>) => {
    change(some);
    recorder.chosen();
    if (some.what && source instanceof SharedScreen && ["window", "band", "element"].includes(some.what)) {
      void source.guess().then(() => recorder.follow());
    }
  };
  const bring = async (files: File[]) => {
    const { left } = await bringFiles(files);
    onBrought();
    if (left > 0)
      notice({
        text: `${left} ${left === 1 ? "file is no picture or recording and was" : "files are no pictures or recordings and were"} left out.`,
      });
  };
  const unknown = source && !source.knows.windows && ["window", "band", "element"].includes(s.what);
  return (
    <div className="columns-[13rem] gap-6 p-4 [&>*]:mb-5 [&>*]:break-inside-avoid">
      <fieldset>
        <legend className="mb-1 font-bold">Take</legend>
        {whats.map(([what, name, hint]) => (
          <Radio key={what} name="what" label={name} hint={hint} on={s.what === what} choose={() => set({ what })} />
        ))}
        {unknown && (
          <p className="mt-2 border-l-[3px] border-call pl-2 text-sm">
            A browser tells no windows or their parts. These windows are guessed from straight edges: point at one, or{" "}
            <button type="button" className="text-action underline" onClick={() => set({ what: "region" })}>
              take a region
            </button>
            .
          </p>
        )}
        {s.what === "window" && source?.knows.windows && (
          <Check label="With its shadow" on={s.shadow} choose={(shadow) => set({ shadow })} />
        )}
        {s.what === "band" && (
          <label className="mt-2 block pl-6 text-sm">
            {Math.round(s.share * 100)} % of its height
            <input
              type="range"
              min={10}
              max={90}
              step={5}
              className="block w-full"
              value={Math.round(s.share * 100)}
              onChange={(e) => set({ share: Number(e.target.value) / 100 })}
            />
            <span className="text-soft">The whole window is kept; the band is its crop.</span>
          </label>
        )}
      </fieldset>
      <fieldset>
        <legend className="mb-1 font-bold">When</legend>
        {whens.map(([when, name]) => {
          const off = when === "click" && source?.kind === "screen";
          return (
            <Radio
              key={when}
              name="when"
              label={name}
              hint={off ? "A browser does not see clicks in what is shared" : ""}
              off={off}
              on={s.when === when}
              choose={() => set({ when })}
            />
          );
        })}
        {s.when === "delay" && (
          <Seconds label="Count down from" value={s.delay} most={30} choose={(delay) => set({ delay })} />
        )}
        {s.when === "settled" && (
          <Seconds label="The same for" value={s.quiet} most={10} choose={(quiet) => set({ quiet })} />
        )}
      </fieldset>
      {source?.knows.pointer && (
        <fieldset>
          <legend className="mb-1 font-bold">Mouse pointer</legend>
          {pointers.map(([pointer, name]) => (
            <Radio
              key={pointer}
              name="pointer"
              label={name}
              on={s.pointer === pointer}
              choose={() => set({ pointer })}
            />
          ))}
        </fieldset>
      )}
      {source && <FilmOptions />}
      <div>
        <h2 className="mb-1 font-bold">Bring in</h2>
        <p className="mb-2 text-sm text-soft">
          Paste with Ctrl+V, as often as you like, or drop files and folders anywhere.
        </p>
        <div className="flex flex-wrap gap-2">
          <ChooseFiles
            label="Choose pictures"
            accept={`${pictureTypes},${movingTypes}`}
            many
            onFiles={(f) => void bring(f)}
          />
          <ChooseFiles label="Choose a folder" accept="" folder onFiles={(f) => void bring(f)} />
        </div>
        <p className="mt-2 text-sm text-soft">
          A recorder outside the browser can send shots too:{" "}
          <Link to="/setup/recorders" className="text-action underline">
            set one up
          </Link>
          .
        </p>
      </div>
      <fieldset>
        <legend className="mb-1 font-bold">Then</legend>
        <Then key={source?.kind} open={source?.kind ?? "clipboard"} />
        <Pattern pattern={s.pattern} />
        <Language language={s.language} />
        <ShowOf show={s.show} />
      </fieldset>
    </div>
  );
}

/** What is done after a shot, for each place that shots come from. */
function Then({ open }: { open: From }) {
  const s = useSettings();
  const receivers = useReceivers();
  const [from, setFrom] = useState(open);
  const after = afterOf(s, from);
  const set = (some: Partial<After>) => change({ after: { ...s.after, [from]: { ...after, ...some } } });
  return (
    <>
      <label className="mb-1 block text-sm">
        <span className="text-soft">with a shot from</span>
        <Few
          value={from}
          options={froms}
          onPick={setFrom}
          className="block w-full rounded border border-soft bg-paper px-2 py-1.5"
        />
      </label>
      {names
        .filter((name) => name !== "copy" || from !== "clipboard")
        .map((name) => (
          <Check key={name} label={afters[name].label} on={after[name]} choose={(on) => set({ [name]: on })} />
        ))}
      {(receivers.data?.length ?? 0) > 0 && (
        <label className="mt-1 block text-sm">
          <span className="text-soft">Report it to</span>
          <select
            value={after.send ?? ""}
            onChange={(e) => set({ send: e.target.value })}
            className="block w-full rounded border border-soft bg-paper px-2 py-1.5"
          >
            <option value="">nobody</option>
            {receivers.data?.map((r) => (
              <option key={r.id} value={r.id}>
                {r.name}
              </option>
            ))}
          </select>
          <span className="text-soft">The report opens with what will go; you press Send.</span>
        </label>
      )}
    </>
  );
}

function Radio(props: { name: string; label: string; hint?: string; on: boolean; off?: boolean; choose: () => void }) {
  return (
    <label className={`flex items-baseline gap-2 py-0.5 ${props.off ? "text-soft" : ""}`}>
      <input
        type="radio"
        name={props.name}
        checked={props.on}
        disabled={props.off}
        onChange={props.choose}
        className="translate-y-0.5"
      />
      <span>
        {props.label}
        {props.hint && (props.on || props.off) && <span className="block text-sm text-soft">{props.hint}</span>}
      </span>
    </label>
  );
}

function Check(props: { label: string; on: boolean; choose: (on: boolean) => void }) {
  return (
    <label className="flex items-baseline gap-2 py-0.5">
      <input
        type="checkbox"
        checked={props.on}
        onChange={(e) => props.choose(e.target.checked)}
        className="translate-y-0.5"
      />
      {props.label}
    </label>
  );
}

function Seconds(props: { label: string; value: number; most: number; choose: (n: number) => void }) {
  return (
    <label className="mt-1 flex items-center gap-2 pl-6 text-sm">
      {props.label}
      <input
        type="number"
        min={1}
        max={props.most}
        value={props.value}
        onChange={(e) => props.choose(Math.min(props.most, Math.max(1, Math.round(Number(e.target.value)) || 1)))}
        className="w-16 rounded border border-soft bg-paper px-2 py-1"
      />
      seconds
    </label>
  );
}

function Language({ language }: { language: Settings["language"] }) {
  return (
    <label className="mt-2 block text-sm">
      <span className="text-soft">Sentences in</span>
      <Few
        value={language}
        options={languages}
        languages
        onPick={(language) => change({ language })}
        className="block w-full rounded border border-soft bg-paper px-2 py-1.5"
      />
    </label>
  );
}

/** How much of the shots of a run their steps show; what is left out is kept underneath. */
export function ShowOf({ show }: { show: Settings["show"] }) {
  return (
    <label className="mt-2 block text-sm">
      <span className="text-soft">A step shows, where it is known what was used,</span>
      <Few
        value={show}
        options={{ "": "the whole shot", band: "a band around it", near: "it and what is around it" }}
        onPick={(show) => change({ show })}
        className="block w-full rounded border border-soft bg-paper px-2 py-1.5"
      />
    </label>
  );
}

function Pattern({ pattern }: { pattern: string }) {
  const [text, setText] = useState(pattern);
  const wrong = core.checkPattern(text);
  return (
    <label className="mt-2 block text-sm">
      <span className="text-soft">Name shots by</span>
      <input
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          if (core.checkPattern(e.target.value) === "") change({ pattern: e.target.value });
        }}
        aria-describedby="pattern-says"
        className="w-full rounded border border-soft bg-paper px-2 py-1 font-mono"
      />
      <span id="pattern-says" className={wrong ? "text-mustfix" : "text-soft"}>
        {wrong || "{date} {time} {window} {session} {n}"}
      </span>
    </label>
  );
}
