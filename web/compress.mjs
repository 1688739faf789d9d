// Packs the built files, each in the place of what it was made of: the server sends them so, and unpacks them for the few
// who don't take that.
import { readdirSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { pack } from "./pack.mjs";

const worth = /\.(js|css|html|wasm|svg|ttf)$/;

for (const name of readdirSync(process.argv[2], { recursive: true })) {
  const file = join(process.argv[2], name);
  if (!worth.test(name) || statSync(file).size < 1024) continue;
  pack(file, `${file}.br`);
  rmSync(file);
}
