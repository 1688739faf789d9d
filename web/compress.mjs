// Compresses the built files, so that the server can send them small without work.
import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const worth = /\.(js|css|html|wasm|svg|ttf)$/;

for (const name of readdirSync(process.argv[2], { recursive: true })) {
  const file = join(process.argv[2], name);
  if (!worth.test(name) || statSync(file).size < 1024) continue;
  const data = readFileSync(file);
  const quality = data.length > 1e6 ? 6 : 10;
  writeFileSync(file + ".br", brotliCompressSync(data, { params: { [constants.BROTLI_PARAM_QUALITY]: quality } }));
  writeFileSync(file + ".gz", gzipSync(data));
}
