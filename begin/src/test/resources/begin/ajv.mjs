// Says of each instance whether its schema takes it: reads [{schema, instances}], writes [[true, false, …], …].
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';

const require = createRequire(process.argv[2]);
const { Ajv2020 } = require('ajv/dist/2020');
const formats = require('ajv-formats').default;
const told = JSON.parse(readFileSync(0, 'utf8')).map(({ schema, instances }) => {
  const ajv = new Ajv2020({ strict: false, logger: false });
  formats(ajv);
  const takes = ajv.compile(schema);
  return instances.map((instance) => takes(instance));
});
process.stdout.write(JSON.stringify(told));
