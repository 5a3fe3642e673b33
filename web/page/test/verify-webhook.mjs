// Reads deliveries as a receiver of any make would, one JSON line each: { secret, headers, body }. Prints what each is, or
// why it is not taken. The two packages are by others.
import { createInterface } from 'node:readline';
import { HTTP } from 'cloudevents';
import { Webhook } from 'standardwebhooks';

for await (const line of createInterface({ input: process.stdin })) {
  const { secret, headers, body } = JSON.parse(line);
  try {
    new Webhook(secret).verify(body, headers);
    const event = HTTP.toEvent({ headers, body });
    event.validate();
    console.log(
      JSON.stringify({
        type: event.type,
        id: event.id,
        source: event.source,
        subject: event.subject,
        data: event.data,
      }),
    );
  } catch (error) {
    console.log(JSON.stringify({ refused: String(error) }));
  }
}
