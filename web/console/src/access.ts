import { call } from './api';
import { t } from './words';

/** Somebody who signs in with a password. */
export interface Person {
  id: string;
  name: string;
  email: string;
  roles: string[];
  hasPassword: boolean;
  signedInAt?: string;
}

/** A link at which a person sets a password; told once. */
export interface PasswordLink {
  name: string;
  link: string;
  until: string;
  /** The address that it was mailed to, or why it could not be. */
  mailedTo?: string;
  notMailed?: string;
  warnings?: string[];
}

/** A person after a change. */
export interface Changed extends Person {
  /** Of roles that no form knows. */
  warnings: string[];
}

/** A key of a program. */
export interface ProgramKey {
  name: string;
  roles: string[];
  forms: string[];
  until?: string;
  lastUse?: { day: string; address: string };
}

/** A key with its secret; told once. */
export interface NewKey extends ProgramKey {
  key: string;
  warnings: string[];
}

/** Somebody who is signed in, in one browser. */
export interface Session {
  id: string;
  caller: string;
  by: 'password' | 'key' | 'issuer';
  begunAt: string;
  usedAt: string;
  address: string;
  current: boolean;
}

/** Calls the service, and reads its answer. */
export async function json<T>(path: string, method = 'GET', body?: object): Promise<T> {
  const response = await call(path, {
    method,
    ...(body && {
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    }),
  });
  return (response.status === 204 ? undefined : await response.json()) as T;
}

export const people = async () => (await json<{ people: Person[] }>('/people')).people;
export const addPerson = (sent: { name: string; email: string; roles: string[] }) =>
  json<PasswordLink>('/people', 'POST', sent);
export const changePerson = (id: string, sent: { email: string; roles: string[] }) =>
  json<Changed>(`/people/${encodeURIComponent(id)}`, 'PUT', sent);
export const newLink = (id: string) =>
  json<PasswordLink>(`/people/${encodeURIComponent(id)}/link`, 'POST');
export const removePerson = (id: string) =>
  json<void>(`/people/${encodeURIComponent(id)}`, 'DELETE');

export const keys = async () => (await json<{ keys: ProgramKey[] }>('/keys')).keys;
export const makeKey = (sent: { name: string; roles: string[]; forms: string[]; until: string }) =>
  json<NewKey>('/keys', 'POST', sent);
export const endKey = (name: string) => json<void>(`/keys/${encodeURIComponent(name)}`, 'DELETE');

export const sessions = async () => (await json<{ sessions: Session[] }>('/sessions')).sessions;
export const endSession = (id: string) => json<void>(`/sessions/${id}`, 'DELETE');

/** The words of a list that stand apart by blanks or commas. */
export function words(text: string): string[] {
  return text.split(/[\s,]+/).filter(Boolean);
}

/** A moment as people read it, to the minute. */
export function minute(moment: string | undefined): string {
  return moment ? `${moment.slice(0, 10)} ${moment.slice(11, 16)} UTC` : t('never');
}
