/** What an error says to people, whatever was thrown. */
export const reasonOf = (e: unknown): string => (e instanceof Error ? e.message : String(e));
