/** Called with the version that a record is at: 0 if it was removed. */
type Changed = (version: number) => unknown;

/** What tabs of one browser say to each other; a record is `form/id`. */
type Said =
  | { kind: 'who' }
  | { kind: 'watching'; tab: string; records: string[] }
  | { kind: 'at'; record: string; version: number };

const watches = new Map<string, Watch>();

/**
 * Tells at which version a record is, and each change of it, until the function that it gives is
 * called; nothing while the page is hidden.
 *
 * @param base where the service's calls are, `/api`
 */
export function follow(base: string, form: string, record: string, changed: Changed): () => void {
  if (typeof EventSource === 'undefined' || typeof document === 'undefined') {
    return () => {};
  }
  const watch = watches.get(base) ?? new Watch(base);
  watches.set(base, watch);
  return watch.add(`${form}/${record}`, changed);
}

/**
 * What a page watches at one service. A browser keeps few connections to a host, and a stream holds
 * one for as long as it lasts: so one tab, that which holds the lock, listens for all that can be
 * seen, and tells the others. Without locks (they are for secure contexts), each page listens.
 */
class Watch {
  readonly #name: string;
  readonly #tab = crypto.getRandomValues(new Uint32Array(2)).join('-');
  readonly #records = new Map<string, Set<Changed>>();
  /** What other tabs watch, by tab; known to the one that listens. */
  readonly #others = new Map<string, string[]>();
  #channel: BroadcastChannel | undefined;
  #leave: AbortController | undefined;
  #listening = false;
  #stream: EventSource | undefined;
  #address = '';

  constructor(private readonly base: string) {
    this.#name = `nodley changes ${new URL(base, location.href).href}`;
  }

  add(record: string, changed: Changed): () => void {
    const all = this.#records.get(record) ?? new Set();
    this.#records.set(record, all.add(changed));
    if (this.#records.size === 1) {
      document.addEventListener('visibilitychange', this.#sync);
    }
    this.#sync();
    return () => {
      all.delete(changed);
      if (!all.size && this.#records.get(record) === all) {
        this.#records.delete(record);
      }
      if (!this.#records.size) {
        document.removeEventListener('visibilitychange', this.#sync);
      }
      this.#sync();
    };
  }

  readonly #sync = () => {
    const wanted = this.#records.size > 0 && !document.hidden;
    if (wanted && !this.#leave) {
      this.#join();
    }
    this.#tell({ kind: 'watching', tab: this.#tab, records: wanted ? this.#own() : [] });
    if (wanted) {
      this.#listen();
    } else {
      this.#part();
    }
  };

  #own(): string[] {
    return [...this.#records.keys()];
  }

  #join(): void {
    const leave = new AbortController();
    this.#leave = leave;
    if (!navigator.locks || typeof BroadcastChannel === 'undefined') {
      this.#listening = true;
      return;
    }
    this.#channel = new BroadcastChannel(this.#name);
    this.#channel.onmessage = ({ data }: MessageEvent<Said>) => this.#hear(data);
    navigator.locks
      .request(this.#name, { signal: leave.signal }, () => {
        this.#listening = true;
        this.#tell({ kind: 'who' });
        this.#listen();
        return new Promise((resolve) => leave.signal.addEventListener('abort', resolve));
      })
      .catch(() => undefined);
  }

  #part(): void {
    this.#listening = false;
    this.#leave?.abort();
    this.#leave = undefined;
    this.#channel?.close();
    this.#channel = undefined;
    this.#others.clear();
    this.#stream?.close();
    this.#stream = undefined;
    this.#address = '';
  }

  #tell(said: Said): void {
    this.#channel?.postMessage(said);
  }

  #hear(said: Said): void {
    if (said.kind === 'at') {
      this.#pass(said.record, said.version);
    } else if (said.kind === 'who') {
      this.#tell({ kind: 'watching', tab: this.#tab, records: this.#own() });
    } else {
      this.#others.set(said.tab, said.records);
      this.#listen();
    }
  }

  #pass(record: string, version: number): void {
    this.#records.get(record)?.forEach((changed) => changed(version));
  }

  /** Listens for all that is watched; the stream before goes on until the new one has begun. */
  #listen(): void {
    const records = [...new Set([...this.#own(), ...[...this.#others.values()].flat()])].sort();
    const query = records.slice(0, 100).map((it) => `record=${encodeURIComponent(it)}`);
    const address = `${this.base}/changes?${query.join('&')}`;
    if (!this.#listening || address === this.#address) {
      return;
    }
    const [before, stream] = [this.#stream, new EventSource(address)];
    this.#address = address;
    this.#stream = stream;
    stream.onopen = () => before?.close();
    stream.onerror = () => before?.close();
    stream.onmessage = (event) => {
      const { form, record, version } = JSON.parse(event.data as string) as {
        form: string;
        record: string;
        version: number;
      };
      this.#tell({ kind: 'at', record: `${form}/${record}`, version });
      this.#pass(`${form}/${record}`, version);
    };
  }
}
