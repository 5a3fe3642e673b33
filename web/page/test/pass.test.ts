import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { renewed } from '../src/net/pass';

beforeEach(() => {
  vi.useFakeTimers({ now: 0 });
});
afterEach(() => {
  vi.useRealTimers();
});

function passes(seconds: number) {
  let count = 0;
  const ask = vi.fn(() => Promise.resolve(`pass.${seconds}.9.${++count}`));
  return { ask, pass: renewed(ask) };
}

test('one pass is asked for once, and kept until a minute before its end', async () => {
  const { ask, pass } = passes(900);
  expect(await Promise.all([pass(), pass()])).toEqual(['pass.900.9.1', 'pass.900.9.1']);
  vi.setSystemTime(839_000);
  expect(await pass()).toBe('pass.900.9.1');
  vi.setSystemTime(840_000);
  expect(await Promise.all([pass(), pass()])).toEqual(['pass.900.9.2', 'pass.900.9.2']);
  expect(ask).toHaveBeenCalledTimes(2);
});

test('a short one is renewed when a tenth of its time is left', async () => {
  const { pass } = passes(10);
  await pass();
  vi.setSystemTime(8_999);
  expect(await pass()).toBe('pass.10.9.1');
  vi.setSystemTime(9_000);
  expect(await pass()).toBe('pass.10.9.2');
});

test('who cannot be asked now is asked again by the next call', async () => {
  const ask = vi.fn<() => Promise<string>>().mockRejectedValueOnce(new Error('offline'));
  ask.mockResolvedValue('pass.900.9.x');
  const pass = renewed(ask);
  await expect(pass()).rejects.toThrow('offline');
  expect(await pass()).toBe('pass.900.9.x');
});

test('the same one given again is sent, and the next call asks again', async () => {
  const ask = vi.fn(() => 'pass.10.9.same');
  const pass = renewed(ask);
  await pass();
  vi.setSystemTime(20_000);
  expect(await pass()).toBe('pass.10.9.same');
  expect(await pass()).toBe('pass.10.9.same');
  expect(ask).toHaveBeenCalledTimes(3);
});

test('what is no pass is never asked for again: a key has no end here', async () => {
  const ask = vi.fn(() => 'k3y');
  const pass = renewed(ask);
  await pass();
  vi.setSystemTime(1e12);
  expect(await pass()).toBe('k3y');
  expect(ask).toHaveBeenCalledTimes(1);
});

test('a token of an issuer says its end in its claims', async () => {
  const claims = (exp: number, iat: number) => btoa(JSON.stringify({ exp, iat })).replace(/=/g, '');
  const tokens = [`x.${claims(100, 0)}.y`, `x.${claims(300, 50)}.y`];
  const pass = renewed(() => tokens.shift()!);
  const first = await pass();
  vi.setSystemTime(89_000);
  expect(await pass()).toBe(first);
  vi.setSystemTime(90_000);
  const second = await pass();
  expect(second).not.toBe(first);
  // It was made 40 seconds before it came: 210 are left, less a tenth.
  vi.setSystemTime(278_000);
  expect(await pass()).toBe(second);
});
