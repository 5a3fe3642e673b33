import type { Decided } from '../rules/stage-context';
import type { Description, FieldError, Json, Values } from '../description';

/** A problem as the service tells it (RFC 9457). */
export interface Problem {
  type: string;
  title: string;
  status: number;
  detail?: string;
  errors?: FieldError[];
  values?: Values;
  version?: number;
  /** Where a record that has changed differs; without `base`, nobody knows what both began from. */
  fields?: { pointer: string; base?: Json; theirs: Json; yours: Json }[];
}

/** An accepted submission. */
export interface Accepted {
  id: string;
  version: number;
  called: string;
  values: Values;
  /** Which kept row each row is, by its pointer. */
  rows?: Record<string, number>;
  after: { go: string; say: string };
}

/** What a verdict on single fields says. */
export interface Checked {
  verdict: 'accepted' | 'refused';
  errors: FieldError[];
  unasked: string[];
  values?: Values;
  /** Of the fields asked for, the conditions that only the service can decide. */
  decided?: Record<string, Decided>;
  /** What those who were asked propose for other fields, and a sentence about it. */
  fill?: { pointer: string; value: Json; detail: string }[];
}

/** The service answered with a problem. */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail ?? problem.title);
  }
}

/** Gives the bearer token of a call: a program's key or a person's pass. */
export type Token = () => string | Promise<string>;

/** Speaks with the service; a failure of the network is thrown as fetch throws it. */
export class Service {
  /**
   * @param language what replies are wanted in, a BCP 47 tag; left out, the browser's choice
   * @param token left out where a session's cookie says who calls
   */
  constructor(
    readonly base = '/api',
    private readonly language = '',
    readonly token?: Token,
  ) {}

  /** The id of the draft that is finished by what is added or edited; empty if there is none. */
  draft = '';

  async describe(form: string): Promise<Description> {
    return (await this.call('GET', `/forms/${form}`)) as Description;
  }

  /** @param page the name of the open page that holds what is found free */
  async check(
    form: string,
    field: string,
    values: Values,
    record: string | undefined,
    signal: AbortSignal,
    page = '',
  ): Promise<Checked> {
    const query = `fields=${field}${record ? `&record=${record}` : ''}${page && `&hold=true&page=${page}`}`;
    return (await this.call(
      'POST',
      `/forms/${form}/checks?${query}`,
      values,
      {},
      signal,
    )) as Checked;
  }

  /**
   * Adds a record.
   *
   * @param key what the submission is called: sent again under it, it is kept once
   * @param page the name of the open page, for which values may be held
   */
  async add(form: string, values: Values, key = '', page = ''): Promise<Accepted> {
    const path = `/forms/${form}/records${this.#with(page)}`;
    return (await this.call('POST', path, values, keyed(key))) as Accepted;
  }

  /** Saves the only record of a form for the first time. */
  async first(form: string, values: Values, key = ''): Promise<Accepted> {
    const headers = { 'If-None-Match': '*', ...keyed(key) };
    return (await this.call('PUT', of(form, '') + this.#with(''), values, headers)) as Accepted;
  }

  /**
   * Edits a record that is at a version.
   *
   * @param record its id; empty for the only one of its form
   * @param changes what has changed, as a JSON Merge Patch
   */
  async edit(
    form: string,
    record: string,
    version: number,
    changes: Values,
    key = '',
    page = '',
  ): Promise<Accepted> {
    const headers = { 'If-Match': `"${version}"`, ...keyed(key) };
    return (await this.call(
      'PATCH',
      of(form, record) + this.#with(page),
      changes,
      headers,
    )) as Accepted;
  }

  #with(page: string): string {
    return page + this.draft && `?draft=${this.draft}${page && `&page=${page}`}`;
  }

  async record(form: string, record: string): Promise<Accepted> {
    return (await this.call('GET', of(form, record))) as Accepted;
  }

  /** Sends any call, and reads its JSON; throws a problem as {@link Refusal}. */
  async call(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
    signal?: AbortSignal,
    keepalive = false,
  ): Promise<unknown> {
    const token = await this.token?.();
    const request: RequestInit = {
      method,
      headers: {
        ...headers,
        ...(token && { Authorization: `Bearer ${token}` }),
        ...(this.language && { 'Accept-Language': this.language }),
        ...(body !== undefined && {
          'Content-Type': `application/${method === 'PATCH' ? 'merge-patch+' : ''}json`,
        }),
      },
      credentials: 'same-origin',
      keepalive,
    };
    if (body !== undefined) {
      request.body = JSON.stringify(body);
    }
    if (signal) {
      request.signal = signal;
    }
    const response = await fetch(this.base + path, request);
    const reply: unknown = await response.json();
    if (!response.ok) {
      throw new Refusal(reply as Problem);
    }
    return reply;
  }
}

function of(form: string, record: string): string {
  return `/forms/${form}/record${record && `s/${record}`}`;
}

function keyed(key: string): Record<string, string> {
  return key ? { 'Idempotency-Key': key } : {};
}
