/** A figure, as proof/bench/kept.mjs reads it. */
export const say = (what, value) => console.log(`${what.trim()}\t${value}`);
