import type { HouseStyle, Scene } from "../../base/api/client";

/** The name of the group of settings that rules what stands at a place of a page. */
export function settingAt(sheet: Scene, style: HouseStyle, x: number, y: number): string {
  const { margins } = style;
  if (y < margins.top - 4) return "header";
  if (y > sheet.h - margins.bottom) return "footer";
  if (x < margins.left || x > sheet.w - margins.right) return "paper";
  const on = sheet.items.find(({ picture: p }) => {
    if (!p) return false;
    const { x: left, y: top, w, h } = p.target;
    return x >= left && x <= left + w && y >= top && y <= top + h;
  })?.picture;
  if (on) return on.ref.startsWith("logo:") ? "logo" : "pictures";
  const words = sheet.items.find(
    ({ words: w }) => w && x >= w.x - 2 && x <= w.x + w.w + 2 && y <= w.y + 4 && y >= w.y - w.size - 2,
  )?.words;
  if (!words) return "steps";
  if (words.size >= 12.5 && words.size > style.size)
    return words.size >= 18 && words.text.length > 4 ? "title" : "numbers";
  if (words.size === 9.5 || words.size === 10.5) return words.size === style.size ? "words" : "contents";
  return words.fill === style.colors.accent ? "links" : "words";
}
