/** A day in words: 3 December 2026. */
export const sayDay = (day: string) =>
  new Date(`${day.slice(0, 10)}T00:00:00`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
  });

/** A day as it stands against today: in 3 days, today, 2 days late. */
export function until(day: string): { said: string; late: boolean } {
  const today = new Date();
  today.setHours(0, 0, 0, 0);
  const days = Math.round((new Date(`${day.slice(0, 10)}T00:00:00`).getTime() - today.getTime()) / 86_400_000);
  if (days === 0) return { said: "today", late: false };
  if (days < 0) return { said: days === -1 ? "1 day late" : `${-days} days late`, late: true };
  return { said: days === 1 ? "tomorrow" : `in ${days} days`, late: false };
}

/** A size in bytes as people read it. */
export const sizeOf = (bytes: number) =>
  bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} KB`;
