// Judges on the page's rules what comes in, line by line: a description, then submissions for it.
import { createInterface } from 'node:readline';

const { judge } = await import(process.argv[2]);
let description;

for await (const line of createInterface({ input: process.stdin })) {
  const message = JSON.parse(line);
  if (message.description) {
    description = message.description;
    process.stdout.write('{}\n');
    continue;
  }
  let reply;
  try {
    reply = judge(description, message.values, message.context);
  } catch (failure) {
    reply = { failure: String(failure?.stack ?? failure) };
  }
  process.stdout.write(`${JSON.stringify(reply)}\n`);
}
