// The page runtime is one file of at most 20 kB gzipped; beyond that the build fails.
import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';

const MAX = 20_000;
const size = gzipSync(readFileSync(new URL('dist/nodley.js', import.meta.url))).length;
if (size > MAX) {
  console.error(`nodley.js is ${size} bytes gzipped; at most ${MAX} are allowed.`);
  process.exit(1);
}
