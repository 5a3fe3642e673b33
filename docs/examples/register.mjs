// Answers what Nodley asks of a register of vessels. SECRET=whsec_… PORT=9000 node register.mjs
import { createHmac, timingSafeEqual } from 'node:crypto';
import { createServer } from 'node:http';

const key = Buffer.from(process.env.SECRET.replace('whsec_', ''), 'base64');
const vessels = {
  MQ7AB: { length: 11.4, rig: 'sail' },
  MQ4EK: { length: 8.2, rig: 'motor' },
  MQ1ZZ: { scrapped: 2019 },
};

function isSigned(headers, body) {
  const { 'webhook-id': id, 'webhook-timestamp': at, 'webhook-signature': signatures = '' } = headers;
  if (!(Math.abs(Date.now() / 1000 - at) < 300)) return false; // An old call that somebody sends again.
  const right = createHmac('sha256', key).update(`${id}.${at}.`).update(body).digest();
  return signatures.split(' ').some((each) => {
    const sent = Buffer.from(each.replace(/^v1,/, ''), 'base64');
    return sent.length === right.length && timingSafeEqual(sent, right);
  });
}

function answer({ field, values }) {
  const vessel = vessels[values.callSign];
  if (!vessel) return {}; // Nothing against it, and nothing to fill in.
  if (vessel.scrapped) {
    const detail = `${values.callSign} was scrapped in ${vessel.scrapped}.`;
    return { errors: [{ pointer: `#/${field}`, code: 'scrapped', detail }] };
  }
  return { fill: vessel };
}

const server = createServer(async (request, response) => {
  const parts = [];
  for await (const part of request) parts.push(part);
  const body = Buffer.concat(parts);
  if (!isSigned(request.headers, body)) return response.writeHead(401).end();
  response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(answer(JSON.parse(body))));
});
server.listen(Number(process.env.PORT), '127.0.0.1', () => console.log('ready at', server.address().port));
