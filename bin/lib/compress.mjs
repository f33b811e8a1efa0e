// What browsers load is compressed once, at build, and not again for every visitor.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const WORTH_IT = /\.(?:js|css|svg|json)$/;
const LEAST_BYTES = 1024;

/** Writes `name.br` and `name.gz` beside every text file below `dir`. */
export function compressFiles(dir) {
  for (const entry of readdirSync(dir, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !WORTH_IT.test(entry.name)) continue;
    const path = join(entry.parentPath, entry.name);
    const bytes = readFileSync(path);
    if (bytes.length < LEAST_BYTES) continue;
    writeFileSync(
      `${path}.br`,
      brotliCompressSync(bytes, {
        params: { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length },
      }),
    );
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
  }
}
