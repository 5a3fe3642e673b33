// The page runtime is one file of at most 20 kB gzipped, as the service hands it out; beyond that the build fails.
import { statSync } from 'node:fs';

const MAX = 20_000;
const { size } = statSync(new URL('dist/nodley.js.gz', import.meta.url));
if (size > MAX) {
  console.error(`nodley.js is ${size} bytes gzipped; at most ${MAX} are allowed.`);
  process.exit(1);
}
console.log(`nodley.js: ${size} bytes gzipped`);
