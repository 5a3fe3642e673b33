import type { Caller } from './caller';
import { Refusal, type Problem, type Values } from 'nodley-page';

/** One line of the list of forms. */
export interface FormSummary {
  form: string;
  title: string;
  revision: number;
  fields: number;
  records?: number;
}

/** One kept record. */
export interface Kept {
  id: string;
  version: number;
  called: string;
  createdAt: string;
  /** Told to those who may edit the record: who added it, and whose it is. */
  owner?: string;
  updatedAt: string;
  values: Values;
  /** Which kept row each row is, by its pointer. */
  rows?: Record<string, number>;
}

export interface Page {
  records: Kept[];
  next?: string;
}

export async function call(path: string, init: RequestInit = {}): Promise<Response> {
  const response = await fetch(`/api${path}`, { credentials: 'same-origin', ...init });
  if (!response.ok) {
    throw new Refusal((await response.json()) as Problem);
  }
  return response;
}

/** Nobody, and the issuers at which somebody may sign in. */
export interface Nobody {
  caller: null;
  issuers: { label: string; address: string }[];
}

export async function whoAmI(): Promise<Caller | Nobody> {
  return (await (await call('/session')).json()) as Caller | Nobody;
}

/** Opens a session: with `name` and `password`, or with `key`. */
export async function signIn(sent: Record<string, string>): Promise<void> {
  await call('/session', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(sent),
  });
}

/** An issuer ends its own session at an address that the browser goes to. */
export async function signOut(): Promise<void> {
  const reply = await call('/session', { method: 'DELETE' });
  if (reply.status === 200) {
    location.assign(((await reply.json()) as { signOutAt: string }).signOutAt);
  }
}

export async function forms(): Promise<FormSummary[]> {
  return ((await (await call('/forms')).json()) as { forms: FormSummary[] }).forms;
}

export async function file(form: string): Promise<string> {
  return (await call(`/forms/${form}/file`)).text();
}

export async function records(
  form: string,
  q: string,
  cursor: string,
  limit: number,
): Promise<Page> {
  const query = new URLSearchParams({ limit: String(limit) });
  if (q) {
    query.set('q', q);
  }
  if (cursor) {
    query.set('cursor', cursor);
  }
  return (await (await call(`/forms/${form}/records?${query}`)).json()) as Page;
}

export async function record(form: string, id: string): Promise<Kept> {
  return (await (await call(`/forms/${form}/records/${id}`)).json()) as Kept;
}
