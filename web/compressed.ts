import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import type { Plugin } from "vite";

const WORTH_IT = /\.(js|css|html|svg|txt|json|webmanifest)$/;

function* files(folder: string): Generator<string> {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) yield* files(path);
    else yield path;
  }
}

/** Compress what is built once, beside itself: the server hands it out as it lies there. */
export function compressed(): Plugin {
  let folder = "dist";
  return {
    name: "compressed",
    apply: "build",
    enforce: "post",
    configResolved(config) {
      folder = config.build.outDir;
    },
    closeBundle: {
      order: "post",
      sequential: true,
      handler() {
        for (const file of files(folder)) {
          if (!WORTH_IT.test(file)) continue;
          const bytes = readFileSync(file);
          const quality = { [constants.BROTLI_PARAM_QUALITY]: 11 };
          writeFileSync(`${file}.br`, brotliCompressSync(bytes, { params: quality }));
          writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
        }
      },
    },
  };
}
