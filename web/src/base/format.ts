/** Days, times, lengths and sizes as people read them: the one place that knows how. */
const language = "en-GB";

const as = (options: Intl.DateTimeFormatOptions) => {
  const format = new Intl.DateTimeFormat(language, options);
  return (moment: string | number | Date) => format.format(new Date(moment));
};

/** A day alone, without a time, is that day wherever it is read. */
const atMidnight = (day: string) => new Date(`${day.slice(0, 10)}T00:00:00`);

/** A day in words: 3 December 2026. */
export const sayDay = (day: string) => dayOf(atMidnight(day));

/** The day of a moment: 3 December 2026. */
export const dayOf = as({ day: "numeric", month: "long", year: "numeric" });

/** The day of a moment of this year: 3 December. */
export const dayOfYear = as({ day: "numeric", month: "long" });

/** The day of a moment, where there is little room: 3 Dec 2026. */
export const dayShort = as({ day: "numeric", month: "short", year: "numeric" });

/** A moment: 3 Dec 2026, 14:05. */
export const momentOf = as({ dateStyle: "medium", timeStyle: "short" });

/** A moment of these days: 3 Dec, 14:05. */
export const momentShort = as({ day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

/** The time of a moment: 14:05. */
export const timeOf = as({ hour: "2-digit", minute: "2-digit" });

/** When something was, in a list: today by its time, else by its day. */
export const lately = (iso: string) =>
  new Date(iso).toDateString() === new Date().toDateString() ? `today ${timeOf(iso)}` : dayShort(iso);

/** A time within what is played, as people read and type it: 0:04, exactly 0:04.20. */
export function sayMs(ms: number, exact = false) {
  const s = Math.max(0, ms) / 1000;
  const minutes = Math.floor(s / 60);
  const rest = exact ? (s % 60).toFixed(2).padStart(5, "0") : String(Math.floor(s % 60)).padStart(2, "0");
  return `${minutes}:${rest}`;
}

/** What was typed as a time: seconds, or minutes and seconds; undefined where it is none. */
export function readMs(text: string): number | undefined {
  const found = /^(?:(\d{1,2}):)?(\d{1,4}(?:[.,]\d{1,3})?)$/.exec(text.trim());
  if (!found) return undefined;
  return Math.round(Number(found[1] ?? 0) * 60_000 + Number((found[2] ?? "").replace(",", ".")) * 1000);
}

/** A day as it stands against today: in 3 days, today, 2 days late. */
export function until(day: string): { said: string; late: boolean } {
  const today = new Date();
  today.setHours(0, 0, 0, 0);
  const days = Math.round((atMidnight(day).getTime() - today.getTime()) / 86_400_000);
  if (days === 0) return { said: "today", late: false };
  if (days < 0) return { said: days === -1 ? "1 day late" : `${-days} days late`, late: true };
  return { said: days === 1 ? "tomorrow" : `in ${days} days`, late: false };
}

/** A size in bytes as people read it. */
export const sizeOf = (bytes: number) =>
  bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} KB`;
