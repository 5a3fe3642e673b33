import type { Caller } from './caller';
import { Refusal, type Json, type Problem, type Values } from 'nodley-page';

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
  /** When its address was confirmed; left out until then. */
  confirmedAt?: string;
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

/** A page of the records of a form; what is blank is not asked for. */
export async function records(form: string, asked: Record<string, string>): Promise<Page> {
  const query = new URLSearchParams(Object.entries(asked).filter(([, value]) => value !== ''));
  return (await (await call(`/forms/${form}/records?${query}`)).json()) as Page;
}

export async function record(form: string, id: string): Promise<Kept> {
  return (await (await call(`/forms/${form}/records/${id}`)).json()) as Kept;
}

/** One value that a version changed. */
export interface Change {
  pointer: string;
  from: Json;
  to: Json;
}

/** One version of a record, and what it changed. */
export interface Version {
  version: number;
  revision: number;
  at: string;
  by: string;
  changes: Change[];
}

export async function versions(form: string, id: string): Promise<Version[]> {
  const reply = await call(`/forms/${form}/records/${id}/versions?limit=200`);
  return ((await reply.json()) as { versions: Version[] }).versions;
}

/** Puts an earlier version back, if the record is at `current`. */
export async function restore(
  form: string,
  id: string,
  version: number,
  current: number,
): Promise<void> {
  await call(`/forms/${form}/records/${id}/versions/${version}/restore`, {
    method: 'POST',
    headers: { 'If-Match': `"${current}"` },
  });
}

/** Removes a record, which can be put back for a while. */
export async function remove(form: string, id: string, version: number): Promise<void> {
  await call(`/forms/${form}/records/${id}?restorable=true`, {
    method: 'DELETE',
    headers: { 'If-Match': `"${version}"` },
  });
}

/** A record that was removed, and can be put back. */
export interface Removed {
  id: string;
  called?: string;
  removedAt: string;
  removedBy: string;
  until: string;
}

/** Those that were removed last, the latest first. */
export async function removedRecords(form: string): Promise<Removed[]> {
  const reply = await call(`/forms/${form}/removed?limit=1000`);
  return ((await reply.json()) as { removed: Removed[] }).removed;
}

const DAY = 86_400;

/** For how many days a record can be put back once it is removed. */
export async function daysKept(form: string): Promise<number> {
  const reply = await call(`/forms/${form}/removed?limit=1`);
  const { keptSeconds } = (await reply.json()) as { keptSeconds: number };
  return Math.round((10 * keptSeconds) / DAY) / 10;
}

export async function putBack(form: string, id: string): Promise<void> {
  await call(`/forms/${form}/removed/${id}/restore`, { method: 'POST' });
}

export async function forget(form: string, id: string): Promise<void> {
  await call(`/forms/${form}/removed/${id}`, { method: 'DELETE' });
}

/** Changes some values of a record, if it is at a version; null takes a value away. */
export async function patch(
  form: string,
  id: string,
  version: number,
  values: Values,
): Promise<void> {
  await call(`/forms/${form}/records/${id}`, {
    method: 'PATCH',
    headers: { 'Content-Type': 'application/merge-patch+json', 'If-Match': `"${version}"` },
    body: JSON.stringify(values),
  });
}

/** Hands a record over to a person, or to nobody. */
export async function handOver(form: string, id: string, owner: string | null): Promise<void> {
  await call(`/forms/${form}/records/${id}/owner`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ owner }),
  });
}
