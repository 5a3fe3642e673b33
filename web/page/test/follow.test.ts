import { afterEach, expect, it, vi } from 'vitest';
import { follow } from '../src/follow';

/** A stream whose events are the test's own. */
class Stream extends EventTarget {
  static last: Stream;
  onmessage?: (event: MessageEvent) => void;
  closed = false;

  constructor(readonly url: string) {
    super();
    Stream.last = this;
  }

  close(): void {
    this.closed = true;
  }
}

afterEach(() => vi.unstubAllGlobals());

function followed(reply: () => Promise<Response>): { asked: string[]; told: number[] } {
  const asked: string[] = [];
  const told: number[] = [];
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('fetch', (url: string) => {
    asked.push(url);
    return reply();
  });
  follow('/api', 'vessel', 'abc', (version) => told.push(version));
  return { asked, told };
}

it('tells each change', () => {
  const { told, asked } = followed(() => Promise.reject(new Error('not to be asked')));
  Stream.last.onmessage!(new MessageEvent('message', { data: '{"record":"abc","version":3}' }));
  expect(told).toEqual([3]);
  expect(asked).toEqual([]);
  expect(Stream.last.url).toBe('/api/forms/vessel/changes?record=abc');
});

it.each([
  ['its version', () => Response.json({ version: 7 }), [7]],
  ['that it is gone', () => new Response('', { status: 404 }), [0]],
  ['nothing where the service cannot tell', () => new Response('', { status: 503 }), []],
])('after a reset the record tells %s', async (_, reply, expected) => {
  const { told, asked } = followed(() => Promise.resolve(reply()));
  Stream.last.dispatchEvent(new Event('reset'));
  await vi.waitFor(() => expect(asked).toEqual(['/api/forms/vessel/records/abc']));
  await vi.waitFor(() => expect(told).toEqual(expected));
});

it('a reset while the network is lost is no error', async () => {
  const { told, asked } = followed(() => Promise.reject(new TypeError('lost')));
  Stream.last.dispatchEvent(new Event('reset'));
  await vi.waitFor(() => expect(asked).toHaveLength(1));
  expect(told).toEqual([]);
});
