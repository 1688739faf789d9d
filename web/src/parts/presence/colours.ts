/** Colours of people: each keeps theirs, and white words are read on all of them. */
const colours = ["#7a3e9d", "#1f6f43", "#9a3b26", "#2b5fa8", "#8a5a00", "#8c2f6b", "#3f5d1e", "#4a4fae"];

export function colourOf(account: string): string {
  let sum = 0;
  for (const c of account) sum = (sum * 31 + c.charCodeAt(0)) % 9973;
  return colours[sum % colours.length] ?? "#2b5fa8";
}
