import { say } from './words';
/** How the network is rehearsed. */
export type Manner = 'as-it-is' | 'slow' | 'lost' | 'refusing';

/** One request that the page has sent, and its answer. */
export interface Exchange {
  method: string;
  path: string;
  sent: string;
  status: number;
  answer: string;
  /** What the service calls its attempt; empty where nothing was sent to it. */
  attempt: string;
  millis: number;
}

/** A slow network takes so many milliseconds longer. */
const SLOW = 3_000;

/** Stands between the page and the service. */
export class Network {
  readonly real = window.fetch.bind(window);
  #manner: Manner = 'as-it-is';
  #heard: (exchange: Exchange) => void = () => {};

  constructor() {
    window.fetch = (input, init) => this.#fetch(input, init);
  }

  set(manner: Manner): void {
    this.#manner = manner;
  }

  /** True if a refusal is the rehearsal's, not the service's. */
  get refuses(): boolean {
    return this.#manner === 'refusing';
  }

  listen(heard: (exchange: Exchange) => void): void {
    this.#heard = heard;
  }

  async #fetch(input: RequestInfo | URL, init: RequestInit = {}): Promise<Response> {
    const path = String(input instanceof Request ? input.url : input);
    const { method = 'GET', body } = init;
    const sent = typeof body === 'string' ? body : '';
    const began = performance.now();
    const told = (status: number, answer: string, attempt = '') =>
      this.#heard({
        method,
        path,
        sent,
        status,
        answer,
        attempt,
        millis: performance.now() - began,
      });
    if (this.#manner === 'slow') {
      await new Promise((go) => setTimeout(go, SLOW));
    }
    if (this.#manner === 'lost') {
      told(0, '');
      throw new TypeError(say('lost-rehearsed'));
    }
    const response =
      this.#manner === 'refusing' && method !== 'GET' && !path.includes('/checks')
        ? refusal(sent)
        : await this.real(input, init);
    if (path.includes('/api/forms/') && method !== 'GET') {
      const attempt = response.headers.get('X-Request-Id') ?? '';
      told(response.status, await response.clone().text(), attempt);
    }
    return response;
  }
}

/** What the service says when it refuses: of the first value that was sent, and of the whole. */
function refusal(sent: string): Response {
  const [first] = Object.keys((JSON.parse(sent || '{}') as object) ?? {});
  const errors = [
    ...(first ? [{ pointer: `#/${first}`, code: 'rule', detail: say('refused-rehearsed') }] : []),
    { pointer: '#', code: 'rule', detail: say('all-refused-rehearsed') },
  ];
  const problem = { type: '/problems/refused', title: 'Refused', status: 422, errors };
  return new Response(JSON.stringify(problem), {
    status: 422,
    headers: { 'Content-Type': 'application/problem+json' },
  });
}
