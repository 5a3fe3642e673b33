// Uploads a file with tus-js-client, as a stock client would: ADDRESS KEY FORM FIELD FILE. Prints the upload's address.
import { createReadStream, statSync } from 'node:fs';
import { basename } from 'node:path';
import { Upload } from 'tus-js-client';

const [address, key, form, field, file] = process.argv.slice(2);
const upload = new Upload(createReadStream(file), {
  endpoint: `${address}/api/uploads`,
  headers: { Authorization: `Bearer ${key}` },
  metadata: { form, field, filename: basename(file) },
  uploadSize: statSync(file).size,
  chunkSize: 1 << 20,
  retryDelays: Array.from({ length: 1000 }, () => 200),
  onProgress: (sent) => console.log(`sent ${sent}`),
  onError: (error) => {
    console.error(String(error));
    process.exit(1);
  },
  onSuccess: () => {
    console.log(`done ${upload.url}`);
    process.exit(0);
  },
});
upload.start();
