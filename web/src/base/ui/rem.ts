/**
 * So many times the size of letters that the reader has set, in pixels: for lists that must know their rows' height.
 */
export const rem = (n: number) => n * parseFloat(getComputedStyle(document.documentElement).fontSize);
