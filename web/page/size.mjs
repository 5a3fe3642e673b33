// The page runtime is one file of at most 20 kB gzipped (gzip -9); beyond that the build fails.
import { readFileSync } from 'node:fs';
import { constants, gzipSync } from 'node:zlib';

const MAX = 20_000;
const size = gzipSync(readFileSync(new URL('dist/nodley.js', import.meta.url)), {
  level: constants.Z_BEST_COMPRESSION,
}).length;
if (size > MAX) {
  console.error(`nodley.js is ${size} bytes gzipped; at most ${MAX} are allowed.`);
  process.exit(1);
}
