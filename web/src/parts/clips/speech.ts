import { useEffect, useMemo, useRef, useState } from "react";
import { api, expect } from "../../base/api/client";

/** How long texts take to be spoken, as they come to be known. */
export function useLengths(texts: string[], language: string, pace: number, wanted: boolean) {
  const known = useRef(new Map<string, number>());
  const [lengths, setLengths] = useState<Record<string, number>>({});
  const [speaks, setSpeaks] = useState(true);
  const how = `${language} ${pace} `;
  const key = how + JSON.stringify(texts);
  useEffect(() => {
    if (!wanted) return;
    let gone = false;
    const tell = () => {
      const all = texts.flatMap((t) => {
        const ms = known.current.get(how + t);
        return ms === undefined ? [] : [[t, ms] as const];
      });
      setLengths(Object.fromEntries(all));
    };
    tell();
    const ask = async () => {
      for (let tries = 0; !gone && tries < 40; tries++) {
        const open = texts.filter((t) => !known.current.has(how + t));
        if (open.length === 0) return;
        const got = await expect(api.POST("/api/speech/lengths", { body: { texts: open, language, pace } }));
        setSpeaks(got.speaks);
        if (!got.speaks) return;
        got.ms.forEach((ms, i) => ms >= 0 && known.current.set(how + (open[i] ?? ""), ms));
        if (!gone) tell();
      }
    };
    // While words are typed nothing is spoken.
    const timer = setTimeout(() => void ask().catch(() => undefined), 500);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key tells the texts
  }, [key, wanted]);
  const waiting = useMemo(
    () => (wanted && speaks ? texts.filter((t) => lengths[t] === undefined).length : 0),
    [texts, lengths, wanted, speaks],
  );
  return { lengths, speaks, waiting };
}

const spoken = new Map<string, string>();

/** The address of what a synthetic voice says. */
export async function speech(text: string, language: string, pace: number): Promise<string> {
  const key = `${language} ${pace} ${text}`;
  const there = spoken.get(key);
  if (there) return there;
  const { data } = await api.POST("/api/speech", { body: { text, language, pace }, parseAs: "blob" });
  if (!data) throw new Error("It can’t be spoken now.");
  const url = URL.createObjectURL(data);
  spoken.set(key, url);
  return url;
}
