import { afterEach, beforeEach, expect, it, vi } from 'vitest';

/** A stream whose events are the test's own. */
class Stream {
  static open: Stream[] = [];
  onmessage?: (event: MessageEvent) => void;
  onopen?: () => void;
  onerror?: () => void;

  constructor(readonly url: string) {
    Stream.open.push(this);
  }

  close(): void {
    Stream.open = Stream.open.filter((it) => it !== this);
  }

  tell(form: string, record: string, version: number): void {
    this.onmessage!(
      new MessageEvent('message', { data: JSON.stringify({ form, record, version }) }),
    );
  }
}

/** The browser's locks: one holder for a name, the others wait. */
function locks(): { request: LockManager['request'] } {
  let held = Promise.resolve();
  return {
    request: ((_: string, { signal }: LockOptions, hold: () => Promise<void>) => {
      held = held.then(() => (signal!.aborted ? undefined : hold()));
      return held;
    }) as LockManager['request'],
  };
}

class Page extends EventTarget {
  hidden = false;

  turn(hidden: boolean): void {
    this.hidden = hidden;
    this.dispatchEvent(new Event('visibilitychange'));
  }
}

interface Tab {
  page: Page;
  told: string[];
  follow: (form: string, record: string) => () => void;
}

/** The script as another tab has it, with a document of its own. */
async function tab(): Promise<Tab> {
  vi.resetModules();
  const { follow } = await import('../src/net/change-stream');
  const page = new Page();
  const told: string[] = [];
  return {
    page,
    told,
    follow(form, record) {
      vi.stubGlobal('document', page);
      return follow('/api', form, record, (version) => told.push(`${form}/${record} ${version}`));
    },
  };
}

beforeEach(() => {
  Stream.open = [];
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('location', { href: 'https://harbour.example/' });
  vi.stubGlobal('navigator', {});
});

afterEach(() => vi.unstubAllGlobals());

const only = () => {
  expect(Stream.open).toHaveLength(1);
  return Stream.open[0]!;
};

it('is one stream for all forms of a page', async () => {
  const { follow, told } = await tab();
  follow('vessel', 'a');
  const end = follow('visit', 'b');
  Stream.open[1]!.onopen!();
  expect(only().url).toBe('/api/changes?record=vessel%2Fa&record=visit%2Fb');
  only().tell('visit', 'b', 3);
  only().tell('vessel', 'other', 3);
  expect(told).toEqual(['visit/b 3']);
  end();
  Stream.open[1]!.onopen!();
  expect(only().url).toBe('/api/changes?record=vessel%2Fa');
});

it('goes on with the stream before until the new one has begun', async () => {
  const { follow, told } = await tab();
  follow('vessel', 'a');
  follow('visit', 'b');
  expect(Stream.open).toHaveLength(2);
  Stream.open[0]!.tell('vessel', 'a', 2);
  expect(told).toEqual(['vessel/a 2']);
});

it('is none while the page is hidden, and none once nothing is followed', async () => {
  const { follow, page } = await tab();
  const end = follow('vessel', 'a');
  page.turn(true);
  expect(Stream.open).toEqual([]);
  page.turn(false);
  only();
  end();
  expect(Stream.open).toEqual([]);
});

it('is one for all tabs, and goes to the next when the one that listens is hidden', async () => {
  vi.stubGlobal('navigator', { locks: locks() });
  const [first, second] = [await tab(), await tab()];
  const ends = [first.follow('vessel', 'a'), second.follow('visit', 'b')];
  await vi.waitFor(() =>
    expect(Stream.open.at(-1)!.url).toBe('/api/changes?record=vessel%2Fa&record=visit%2Fb'),
  );
  Stream.open.at(-1)!.onopen!();
  only().tell('visit', 'b', 2);
  await vi.waitFor(() => expect(second.told).toEqual(['visit/b 2']));
  expect(first.told).toEqual([]);
  vi.stubGlobal('document', first.page);
  first.page.turn(true);
  vi.stubGlobal('document', second.page);
  await vi.waitFor(() => expect(only().url).toBe('/api/changes?record=visit%2Fb'));
  ends.forEach((end) => end());
});
