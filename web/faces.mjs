// Packs the faces for other scripts, which npm brings, to where engines/fonts embeds them.
import { existsSync, statSync } from "node:fs";
import { pack } from "./pack.mjs";

const faces = {
  wide: "noto-sans/400Regular/NotoSans_400Regular",
  "wide-bold": "noto-sans/700Bold/NotoSans_700Bold",
  han: "noto-sans-jp/400Regular/NotoSansJP_400Regular",
  "han-bold": "noto-sans-jp/700Bold/NotoSansJP_700Bold",
  arabic: "noto-sans-arabic/400Regular/NotoSansArabic_400Regular",
  "arabic-bold": "noto-sans-arabic/700Bold/NotoSansArabic_700Bold",
  hebrew: "noto-sans-hebrew/400Regular/NotoSansHebrew_400Regular",
  "hebrew-bold": "noto-sans-hebrew/700Bold/NotoSansHebrew_700Bold",
  emoji: "noto-emoji/400Regular/NotoEmoji_400Regular",
};

for (const [name, file] of Object.entries(faces)) {
  const from = new URL(`node_modules/@expo-google-fonts/${file}.ttf`, import.meta.url);
  const to = new URL(`../engines/fonts/${name}.ttf.br`, import.meta.url);
  if (!existsSync(to) || statSync(to).mtimeMs < statSync(from).mtimeMs) pack(from, to);
}
