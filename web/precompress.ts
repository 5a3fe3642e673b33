import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipAsync } from '@gfx/zopfli';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import type { Plugin } from 'vite';

/** What is smaller than a packet gains nothing. */
const LEAST = 1_000;

/** Beyond that the slow search for the shortest gzip takes too long. */
const MOST_SEARCHED = 200_000;

/** Beside each text of a build the same in brotli (RFC 7932) and gzip, which the service hands out. */
export function precompress(folder: string): Plugin {
  return {
    name: 'precompress',
    async closeBundle() {
      for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
        const file = join(folder, name);
        if (/\.(js|css|svg)$/.test(name) && statSync(file).size >= LEAST) {
          const text = readFileSync(file);
          const quality = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY };
          writeFileSync(`${file}.br`, brotliCompressSync(text, { params: quality }));
          writeFileSync(`${file}.gz`, await shortest(text));
        }
      }
    },
  };
}

async function shortest(text: Buffer): Promise<Uint8Array> {
  return text.length > MOST_SEARCHED
    ? gzipSync(text, { level: constants.Z_BEST_COMPRESSION })
    : gzipAsync(text, { numiterations: 15 });
}
