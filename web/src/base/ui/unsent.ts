/**
 * What someone is writing and has not sent: it is there again when its field is, after it was scrolled out of the page
 * or another screen was opened. It is in the memory of the page alone, which the next person does not have.
 */
export const unsent = new Map<string, string>();
