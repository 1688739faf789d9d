/** What has to be there. Where it is not, the program is wrong and stops here, not later at something else. */
export function sure<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new Error("Something is missing that has to be there.");
  return value;
}

/** The names of a record by their type, in its order. */
export const keysOf = <K extends string>(of: Partial<Record<K, unknown>>) => Object.keys(of) as K[];

export const isKeyOf = <K extends string>(of: Partial<Record<K, unknown>>, name: string): name is K =>
  Object.hasOwn(of, name);

/** The name of a record that was chosen from its names. */
export const keyOf = <K extends string>(of: Partial<Record<K, unknown>>, name: string): K =>
  sure(isKeyOf(of, name) ? name : undefined);

/** JSON that this program has written. */
export const parsed = <T>(json: string): T => JSON.parse(json) as T;

/** Whether something happened at an element, in whichever window. */
export const isElement = (at: EventTarget | null): at is HTMLElement => at !== null && "closest" in at;

/** The element around the place of an event that is of a kind. */
export const around = (e: { target: EventTarget | null }, kind: string): HTMLElement | null =>
  isElement(e.target) ? e.target.closest<HTMLElement>(kind) : null;
