import { Refusal } from 'nodley-page';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { endKey, minute, newLink, people, words } from '../src/access';
import { records, signOut } from '../src/api';

/** What was asked for: method and address. */
let asked: string[];
let answer: () => Response;

beforeEach(() => {
  asked = [];
  vi.stubGlobal('fetch', (address: string, init: RequestInit) => {
    asked.push(`${init.method ?? 'GET'} ${address}`);
    return Promise.resolve(answer());
  });
});

afterEach(() => vi.unstubAllGlobals());

it('names people and keys in addresses, whatever is in their names', async () => {
  answer = () => new Response('{}', { status: 201 });
  await newLink('own:ann/../bob');
  answer = () => new Response(null, { status: 204 });
  await endKey('night export?');
  expect(asked).toEqual([
    'POST /api/people/own%3Aann%2F..%2Fbob/link',
    'DELETE /api/keys/night%20export%3F',
  ]);
});

it('throws what the service refuses', async () => {
  answer = () =>
    new Response(JSON.stringify({ title: 'You may not do this', status: 403 }), { status: 403 });
  await expect(people()).rejects.toBeInstanceOf(Refusal);
});

it('asks for a page of records, with words and from a cursor', async () => {
  answer = () => new Response('{"records": []}');
  await records('visit', { limit: '50', q: '' });
  await records('visit', { limit: '50', q: 'grey heron & co', cursor: 'c1' });
  expect(asked).toEqual([
    'GET /api/forms/visit/records?limit=50',
    'GET /api/forms/visit/records?limit=50&q=grey+heron+%26+co&cursor=c1',
  ]);
});

it('goes on to the issuer where its session ends, too', async () => {
  const assign = vi.fn();
  vi.stubGlobal('location', { assign });
  answer = () => new Response(null, { status: 204 });
  await signOut();
  expect(assign).not.toHaveBeenCalled();
  answer = () => new Response('{"signOutAt": "https://issuer.example/end"}');
  await signOut();
  expect(assign).toHaveBeenCalledExactlyOnceWith('https://issuer.example/end');
});

it('reads words and moments', () => {
  expect(words(' clerk, pilot\nauthor ,,')).toEqual(['clerk', 'pilot', 'author']);
  expect(words('')).toEqual([]);
  expect(minute('2026-11-30T05:12:59Z')).toBe('2026-11-30 05:12 UTC');
  expect(minute(undefined)).toBe('never');
});
