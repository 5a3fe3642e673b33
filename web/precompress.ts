import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipAsync } from '@gfx/zopfli';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import type { Plugin } from 'vite';

/** What is smaller than a packet gains nothing. */
const LEAST = 1_000;

/**
 * Beside each text of a build the same in brotli (RFC 7932) and gzip, which the service hands out.
 *
 * @param search whether the shortest gzip is searched for, which takes about ten times as long
 */
export function precompress(folder: string, search: boolean): Plugin {
  return {
    name: 'precompress',
    async closeBundle() {
      for (const name of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
        const file = join(folder, name);
        if (/\.(js|css|svg)$/.test(name) && statSync(file).size >= LEAST) {
          const text = readFileSync(file);
          const quality = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY };
          writeFileSync(`${file}.br`, brotliCompressSync(text, { params: quality }));
          const gzip = search
            ? await gzipAsync(text, { numiterations: 15 })
            : gzipSync(text, { level: constants.Z_BEST_COMPRESSION });
          writeFileSync(`${file}.gz`, gzip);
        }
      }
    },
  };
}
