// Takes deliveries of Nodley. SECRET=whsec_… PORT=9000 node receiver.mjs
import { createHmac, timingSafeEqual } from 'node:crypto';
import { createServer } from 'node:http';

const key = Buffer.from(process.env.SECRET.replace('whsec_', ''), 'base64');
const seen = new Set(); // Yours is a table: a delivery may come twice, under the same id.

function isSigned(headers, body) {
  const { 'webhook-id': id, 'webhook-timestamp': at, 'webhook-signature': signatures = '' } = headers;
  if (!(Math.abs(Date.now() / 1000 - at) < 300)) return false; // An old call that somebody sends again.
  const right = createHmac('sha256', key).update(`${id}.${at}.`).update(body).digest();
  return signatures.split(' ').some((each) => {
    const sent = Buffer.from(each.replace(/^v1,/, ''), 'base64');
    return sent.length === right.length && timingSafeEqual(sent, right);
  });
}

const server = createServer(async (request, response) => {
  const parts = [];
  for await (const part of request) parts.push(part);
  const body = Buffer.concat(parts);
  if (!isSigned(request.headers, body)) return response.writeHead(401).end();
  const event = JSON.parse(body);
  if (!seen.has(event.id)) {
    console.log(event.type, event.subject, JSON.stringify(event.data.values));
    seen.add(event.id);
  }
  response.writeHead(204).end(); // Anything but 2xx has it sent again later.
});
server.listen(Number(process.env.PORT), '127.0.0.1', () => console.log('ready at', server.address().port));
