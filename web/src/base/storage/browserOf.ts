/** What a browser calls itself, in two words: Firefox on Linux. */
export function browserOf(agent: string): string {
  const first = (names: [RegExp, string][]) => names.find(([is]) => is.test(agent))?.[1];
  const browser = first([
    [/Edg\//, "Edge"],
    [/Firefox\//, "Firefox"],
    [/Chrom(e|ium)\//, "Chromium"],
    [/Safari\//, "Safari"],
  ]);
  const system = first([
    [/Windows/, "Windows"],
    [/Android/, "Android"],
    [/iPhone|iPad/, "iOS"],
    [/Mac OS/, "macOS"],
    [/Linux/, "Linux"],
  ]);
  return browser && system ? `${browser} on ${system}` : (browser ?? (agent.slice(0, 40) || "A browser"));
}
